package door

import (
	"net"
	"net/netip"
	"strings"
)

// Hosts are the names that the program answers to. A page from elsewhere that points a
// name of its own at this machine is not answered.
type Hosts struct{ names map[string]bool }

// NewHosts are the loopback names, the address that is served, or those of the machine
// where it is served on all, and further names.
func NewHosts(served net.Addr, more ...string) Hosts {
	h := Hosts{names: map[string]bool{}}
	if tcp, is := served.(*net.TCPAddr); is {
		h.names[tcp.IP.String()] = true
		if tcp.IP.IsUnspecified() {
			for _, ip := range ownAddresses() {
				h.names[ip] = true
			}
		}
	}
	for _, name := range more {
		h.names[bare(name)] = true
	}
	return h
}

// ownAddresses are the addresses of this machine.
func ownAddresses() (out []string) {
	all, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	for _, a := range all {
		if n, is := a.(*net.IPNet); is && !n.IP.IsLinkLocalUnicast() {
			out = append(out, n.IP.String())
		}
	}
	return out
}

// Knows reports whether a Host header names the program. Loopback addresses always do.
func (h Hosts) Knows(host string) bool {
	name := bare(host)
	if ip, err := netip.ParseAddr(name); err == nil && ip.IsLoopback() {
		return true
	}
	return name == "localhost" || h.names[name]
}

// bare is a host without its port, in small letters.
func bare(host string) string {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(strings.TrimSuffix(strings.Trim(host, "[]"), "."))
}

// Loopback reports whether only this machine reaches an address.
func Loopback(a net.Addr) bool {
	tcp, is := a.(*net.TCPAddr)
	return is && tcp.IP.IsLoopback()
}

// Reached is the address under which others reach the program: the first further name, or
// else an address of the machine; empty where only the machine itself does.
func Reached(served net.Addr, more ...string) string {
	tcp, is := served.(*net.TCPAddr)
	if !is || tcp.IP.IsLoopback() {
		return ""
	}
	port := served.String()[strings.LastIndex(served.String(), ":")+1:]
	if len(more) > 0 {
		return net.JoinHostPort(bare(more[0]), port)
	}
	if !tcp.IP.IsUnspecified() {
		return served.String()
	}
	for _, ip := range ownAddresses() {
		if a, err := netip.ParseAddr(ip); err == nil && !a.IsLoopback() {
			return net.JoinHostPort(ip, port)
		}
	}
	return net.JoinHostPort("localhost", port)
}
