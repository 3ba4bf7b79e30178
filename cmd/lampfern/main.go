// Command lampfern plans colour in real materials: it serves the pages on this
// machine and brings lists and plans in. It holds flags and wiring only.
package main

import (
	"bufio"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"github.com/gofrs/flock"
	"github.com/spf13/cobra"

	"lampfern/core/words"
	"lampfern/demo"
	"lampfern/door"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages"
	"lampfern/standin"
	"lampfern/store"
	"lampfern/web"
)

// version is the program's own; the data folder has its migrations.
const version = "0.1.0"

// stopWithin is how long running requests may take once the program is asked
// to stop.
const stopWithin = 5 * time.Second

func main() {
	level := new(slog.LevelVar)
	level.Set(slog.LevelWarn)
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level})))
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := command(level).ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "lampfern: "+err.Error())
		os.Exit(1)
	}
}

func command(level *slog.LevelVar) *cobra.Command {
	root := &cobra.Command{Use: "lampfern", Short: "Plan colour in real materials", SilenceUsage: true, SilenceErrors: true}
	said := root.PersistentFlags().String("log", "warn", "what is logged to the standard error: debug, info, warn or error")
	root.PersistentPreRunE = func(*cobra.Command, []string) error {
		if err := level.UnmarshalText([]byte(*said)); err != nil {
			return fmt.Errorf("--log %s is not known: choose debug, info, warn or error", *said)
		}
		return nil
	}
	root.AddCommand(demoCommand(), serveCommand(), importCommand(), readerCommand(), supplierCommand(), passphraseCommand(), backupCommand(),
		restoreCommand(), salvageCommand(),
		&cobra.Command{Use: "version", Short: "Print the version", Args: cobra.NoArgs, Run: func(c *cobra.Command, _ []string) {
			fmt.Fprintln(c.OutOrStdout(), "Lamp Fern "+version)
		}})
	return root
}

func addressFlag(c *cobra.Command, to *string) {
	c.Flags().StringVar(to, "addr", "127.0.0.1:8080", "address to serve on; port 0 takes a free one")
}

func dataFlag(c *cobra.Command, to *string) {
	dir, err := os.UserConfigDir()
	if err != nil {
		dir = "."
	}
	c.Flags().StringVar(to, "data", filepath.Join(dir, "lampfern"), "data folder")
}

func devFlag(c *cobra.Command, to *bool) {
	c.Flags().BoolVar(to, "dev", false, "read templates, modules and style sheets from the source, so that an edit shows at the next load")
}

// reach is how a program that serves is reached.
type reach struct {
	addr      string
	hosts     []string
	cert, key string
	plain     bool
	proxies   []string
}

func reachFlags(c *cobra.Command, to *reach) {
	addressFlag(c, &to.addr)
	c.Flags().StringArrayVar(&to.hosts, "host", nil, "another name that the program can be opened by; may be given several times")
	c.Flags().StringVar(&to.cert, "tls-cert", "",
		"your certificate (PEM); without one, the program makes its own where others can reach it")
	c.Flags().StringVar(&to.key, "tls-key", "", "the key of your certificate (PEM)")
	c.Flags().BoolVar(&to.plain, "no-tls", false, "serve others without TLS, behind something that adds it")
	c.Flags().StringArrayVar(&to.proxies, "trust-proxy", nil,
		"address of a proxy in front of this program that sends X-Forwarded-For; may be given several times")
}

// doorway is how the program is reached at a listener, and what it is to be listened with.
// Where others reach it, it wants a passphrase.
func (r reach) doorway(c *cobra.Command, st *store.Store, dir string, l net.Listener) (web.Doorway, net.Listener, error) {
	hosts := door.NewHosts(l.Addr(), r.hosts...)
	way := web.Doorway{Door: door.New(st), Hosts: hosts}
	for _, text := range r.proxies {
		at, err := netip.ParseAddr(text)
		if err != nil {
			return way, l, fmt.Errorf("--trust-proxy %s is not an address: give one such as 127.0.0.1 or 192.168.1.2", text)
		}
		way.Proxies = append(way.Proxies, at.Unmap())
	}
	if door.Loopback(l.Addr()) {
		return way, l, nil
	}
	has, err := way.Door.Has(c.Context())
	if err != nil {
		return way, l, fmt.Errorf("reading the passphrase: %w", err)
	}
	if !has {
		return way, l,
			fmt.Errorf("%s can be reached by others, and no passphrase is set: set one with “lampfern passphrase --data %s”, or serve on 127.0.0.1", l.Addr(), dir)
	}
	way.Closed, way.Reached = true, "http://"+door.Reached(l.Addr(), r.hosts...)
	if r.plain {
		return way, l, nil
	}
	cert, err := door.Certificate(dir, r.cert, r.key, hosts.Names())
	if err != nil {
		return way, l, err
	}
	way.Secure, way.Fingerprint, way.Reached = true, door.Fingerprint(cert), "https://"+door.Reached(l.Addr(), r.hosts...)
	return way, tls.NewListener(l, &tls.Config{Certificates: []tls.Certificate{cert}, MinVersion: tls.VersionTLS12,
		NextProtos: []string{"http/1.1"}}), nil
}

func passphraseCommand() *cobra.Command {
	var dir string
	c := &cobra.Command{Use: "passphrase",
		Short: "Set the passphrase that others sign in with, from a line of the standard input; everybody is signed out", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, err := store.Open(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			fmt.Fprintf(c.OutOrStdout(), "Type the new passphrase, at least %d characters, then Enter:\n", door.Shortest)
			line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
			if err != nil && line == "" {
				return errors.New("no passphrase was given, and nothing was changed")
			}
			if err := door.New(st).Set(c.Context(), strings.TrimRight(line, "\r\n")); err != nil {
				return err
			}
			fmt.Fprintln(c.OutOrStdout(), "The passphrase is set, and everybody is signed out.")
			return nil
		}}
	dataFlag(c, &dir)
	return c
}

func demoCommand() *cobra.Command {
	var dir string
	var at reach
	var dev bool
	c := &cobra.Command{Use: "demo", Short: "Serve the demo workroom, in a temporary data folder unless --data names one",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			fill, passing := demo.Load, false
			if dir == "" {
				var err error
				if dir, err = os.MkdirTemp("", "lampfern-demo-*"); err != nil {
					return fmt.Errorf("making a temporary data folder: %w", err)
				}
				defer os.RemoveAll(dir)
				passing = true
			} else if _, err := os.Stat(filepath.Join(dir, store.FileName)); err == nil {
				fill = nil // it holds a workroom already
			}
			reader, err := startReader(c.Context())
			if err != nil {
				return fmt.Errorf("starting the simulated colour reader: %w", err)
			}
			prices, err := net.Listen("tcp", "127.0.0.1:0")
			if err != nil {
				return fmt.Errorf("starting the simulated suppliers: %w", err)
			}
			go serveSupplier(c.Context(), prices)
			post, err := serveMailbox(c.Context())
			if err != nil {
				return fmt.Errorf("starting the simulated mail server: %w", err)
			}
			return serve(c, dir, at, beside{reader: reader, prices: prices.Addr().String(), mail: post, passing: passing}, dev, fill)
		}}
	c.Flags().StringVar(&dir, "data", "", "data folder to keep the demo workroom in")
	reachFlags(c, &at)
	devFlag(c, &dev)
	return c
}

func serveCommand() *cobra.Command {
	var dir string
	var by beside
	var at reach
	var dev bool
	c := &cobra.Command{Use: "serve", Short: "Serve your own workroom", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			by.mail.Password = os.Getenv("LAMPFERN_MAIL_PASSWORD")
			return serve(c, dir, at, by, dev, nil)
		}}
	secondFlag(c, &by.second)
	c.Flags().StringVar(&by.reader, "reader", "", "address of a colour reader, such as 127.0.0.1:7070")
	c.Flags().StringVar(&by.mail.Address, "mail", "", "your mail server, such as mail.example:587")
	c.Flags().StringVar(&by.mail.From, "mail-from", "", "your mail address")
	c.Flags().StringVar(&by.mail.User, "mail-user", "", "your user name at the mail server; its password is read from LAMPFERN_MAIL_PASSWORD")
	c.Flags().StringVar(&by.prices, "prices", "", "address of a server of price lists, such as 127.0.0.1:7071")
	dataFlag(c, &dir)
	reachFlags(c, &at)
	devFlag(c, &dev)
	return c
}

// serve opens the data folder, fills it when asked, and serves until the
// context ends.
func serve(c *cobra.Command, dir string, at reach, by beside, dev bool, fill func(context.Context, *plan.Desk) error) error {
	debug.SetMemoryLimit(shelf.MostMemory)
	free, err := alone(dir)
	if err != nil {
		return err
	}
	defer free()
	defer tempIn(dir)()
	switch told, err := store.TakeNext(c.Context(), dir, time.Now()); {
	case err != nil:
		fmt.Fprintf(c.OutOrStdout(), "The backup could not be restored, and the workroom is as it was: %v.\n", err)
	case told != "":
		fmt.Fprintln(c.OutOrStdout(), told)
	}
	st, err := store.Open(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := st.KeepAlso(store.Second{Dir: by.second, Passphrase: os.Getenv(sealWord)}); err != nil {
		return err
	}
	if !st.Damaged() {
		gone, err := st.Sweep(c.Context())
		if err != nil && !st.Damaged() {
			return fmt.Errorf("tidying the data folder: %w", err)
		}
		if gone > 0 {
			slog.Info("what was left unfinished was removed", "files", gone)
		}
	}
	work := desk(st)
	work.ReaderAddress, work.PricesAddress, work.Mail, work.Version, work.Passing = by.reader, by.prices, by.mail, version, by.passing
	work.StartReader = func() (string, error) { return startReader(c.Context()) }
	if fill != nil {
		if err := fill(c.Context(), work); err != nil {
			return fmt.Errorf("filling the workroom: %w", err)
		}
	}
	listener, err := net.Listen("tcp", at.addr)
	if err != nil {
		return fmt.Errorf("%s cannot be used (%w): another program may be there already, so choose another with --addr, such as 127.0.0.1:8090",
			at.addr, err)
	}
	listener = web.Limited(listener)
	defer listener.Close()
	way, listener, err := at.doorway(c, st, dir, listener)
	if err != nil {
		return err
	}
	options := web.Options{Dev: dev, Doorway: way}
	if fill == nil { // one's own workroom
		t := &tried{reader: work.StartReader}
		defer func() { _ = t.close() }() // a folder of the system's, which tidies it too
		options.Try = &web.Try{Open: t.open, Close: t.close}
	}
	handler, err := web.New(work, options, stages.Rooms())
	if err != nil {
		return err
	}
	server := web.HTTPServer(handler)
	address := "http://" + listener.Addr().String()
	if way.Closed {
		address = way.Reached
	}
	fmt.Fprintf(c.OutOrStdout(), "Lamp Fern is open at %s\nData folder: %s\nCtrl-C closes it.\n", address, dir)
	if way.Fingerprint != "" {
		fmt.Fprintf(c.OutOrStdout(), "Fingerprint of its certificate (SHA-256), to compare in the browser:\n%s\n", way.Fingerprint)
	}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	if fill == nil { // a demo that is thrown away needs none
		go keepWell(c.Context(), st)
	}
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-c.Context().Done():
	}
	ctx, cancel := context.WithTimeout(context.Background(), stopWithin)
	defer cancel()
	switch err := server.Shutdown(ctx); {
	case errors.Is(err, context.DeadlineExceeded): // a file that comes in by drips
		if err := server.Close(); err != nil {
			return fmt.Errorf("closing: %w", err)
		}
		fmt.Fprintln(c.OutOrStdout(),
			"Closed. A file that was still being sent is not saved: send it again. Everything else is saved.")
	case err != nil:
		return fmt.Errorf("closing: %w", err)
	default:
		fmt.Fprintln(c.OutOrStdout(), "Closed. Everything is saved.")
	}
	return nil
}

// tried is a demo workroom in a throw-away folder, to look around in.
type tried struct {
	st     *store.Store
	dir    string
	reader func() (string, error) // starts a simulated reader
}

func (t *tried) open(ctx context.Context) (*plan.Desk, error) {
	var err error
	if t.dir, err = os.MkdirTemp("", "lampfern-try-*"); err != nil {
		return nil, fmt.Errorf("making a temporary data folder: %w", err)
	}
	if t.st, err = store.Open(t.dir); err != nil {
		return nil, errors.Join(err, t.close())
	}
	work := desk(t.st)
	work.Version, work.Passing, work.StartReader = version, true, t.reader
	err = demo.Load(ctx, work)
	if err == nil {
		err = work.KeepTour(ctx, true) // who looks around is new
	}
	if err != nil {
		return nil, errors.Join(err, t.close())
	}
	return work, nil
}

func (t *tried) close() error {
	if t.dir == "" {
		return nil
	}
	var err error
	if t.st != nil {
		err = t.st.Close()
	}
	err = errors.Join(err, os.RemoveAll(t.dir))
	t.st, t.dir = nil, ""
	return err
}

// tempFolder is where files lie that last no longer than a request, within the data folder, so that what a
// kill leaves of them is found and taken away.
const tempFolder = ".temp"

// tempIn has temporary files lie in a data folder until tidy is called. Where that cannot be, they lie where
// the system puts them.
func tempIn(dir string) (tidy func()) {
	at, err := filepath.Abs(filepath.Join(dir, tempFolder))
	if err == nil {
		err = errors.Join(os.RemoveAll(at), os.MkdirAll(at, 0o700))
	}
	for _, name := range []string{"TMPDIR", "TMP"} { // as os.TempDir reads them
		if err == nil {
			err = os.Setenv(name, at)
		}
	}
	if err != nil {
		slog.Warn("temporary files go where the system puts them", "err", err)
		return func() {}
	}
	return func() { _ = os.RemoveAll(at) } // what is left is taken away at the next start
}

// lockName is the file that tells a second program that a data folder is in use.
const lockName = ".in-use"

// alone keeps a data folder to this program until free is called.
func alone(dir string) (free func(), err error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return func() {}, nil // opening it says why not
	}
	lock := flock.New(filepath.Join(dir, lockName), flock.SetPermissions(0o600))
	got, err := lock.TryLock()
	if err != nil {
		return func() {}, nil // where there are no locks, the database's own must do
	}
	if !got {
		return nil, fmt.Errorf("another Lamp Fern is using %s: use that one, close it, or choose another folder with --data", dir)
	}
	return func() { _ = lock.Unlock() }, nil
}

// beside are the devices and services that a program uses.
type beside struct {
	reader, prices string
	mail           exchange.MailServer
	second         string // folder that backups are copied to
	passing        bool   // the data folder is thrown away at closing
}

// serveMailbox serves the simulated mail server and the page of its mailbox until the
// context ends.
func serveMailbox(ctx context.Context) (exchange.MailServer, error) {
	post, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return exchange.MailServer{}, err
	}
	page, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return exchange.MailServer{}, err
	}
	box := &standin.Mailbox{}
	go func() {
		if err := box.Serve(ctx, post); err != nil {
			slog.Error("the simulated mail server stopped", "err", err)
		}
	}()
	go serveStandIn(ctx, page, box.Page())
	return exchange.MailServer{Address: post.Addr().String(), From: "maker@moth-and-marrow.example",
		Mailbox: "http://" + page.Addr().String() + "/"}, nil
}

// readerSeed starts the noise of the simulated reader.
const readerSeed = 1

// startReader starts a simulated colour reader on a free port, until ctx ends.
func startReader(ctx context.Context) (address string, err error) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	go func() {
		if err := standin.NewReader(readerSeed).Serve(ctx, listener); err != nil {
			slog.Error("the simulated colour reader stopped", "err", err)
		}
	}()
	return listener.Addr().String(), nil
}

func readerCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{Use: "reader", Short: "Run the simulated colour reader by itself", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			listener, err := net.Listen("tcp", addr)
			if err != nil {
				return fmt.Errorf("%s cannot be used (%w): choose another with --addr", addr, err)
			}
			fmt.Fprintf(c.OutOrStdout(), "A simulated colour reader answers at %s\nCtrl-C ends it.\n", listener.Addr())
			return standin.NewReader(readerSeed).Serve(c.Context(), listener)
		}}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:7070", "address to answer on")
	return c
}

// serveSupplier serves the simulated suppliers until the context ends.
func serveSupplier(ctx context.Context, l net.Listener) { serveStandIn(ctx, l, standin.Supplier()) }

// serveStandIn serves pages of a stand-in until the context ends.
func serveStandIn(ctx context.Context, l net.Listener, pages http.Handler) {
	server := &http.Server{Handler: pages, ReadHeaderTimeout: 5 * time.Second}
	stop := context.AfterFunc(ctx, func() { _ = server.Close() })
	defer stop()
	if err := server.Serve(l); err != nil && !errors.Is(err, http.ErrServerClosed) {
		slog.Error("a stand-in stopped", "err", err)
	}
}

func supplierCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{Use: "supplier", Short: "Run the simulated suppliers by themselves", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			listener, err := net.Listen("tcp", addr)
			if err != nil {
				return fmt.Errorf("%s cannot be used (%w): choose another with --addr", addr, err)
			}
			fmt.Fprintf(c.OutOrStdout(), "Simulated suppliers answer at http://%s/prices.json\nCtrl-C ends them.\n", listener.Addr())
			serveSupplier(c.Context(), listener)
			return nil
		}}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:7071", "address to answer on")
	return c
}

func importCommand() *cobra.Command {
	var dir string
	var leaveOut, update bool
	c := &cobra.Command{Use: "import FILE",
		Short: "Import materials (.csv, .xlsx, CGATS text, design tokens), a whole shelf (.zip) or a plan (.zip, or .json of an earlier Lamp Fern)", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			free, err := alone(dir)
			if err != nil {
				return err
			}
			defer free()
			st, err := store.Open(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			return importFile(c, desk(st), args[0], leaveOut, update)
		}}
	dataFlag(c, &dir)
	c.Flags().BoolVar(&update, "update", false, "change materials already on the shelf where a line differs")
	c.Flags().BoolVar(&leaveOut, "leave-out-bad", false, "import the good lines even when some are bad")
	return c
}

// importFile brings in a file of whatever kind it is.
func importFile(c *cobra.Command, work *plan.Desk, file string, leaveOut, update bool) error {
	f, err := os.Open(file)
	if err != nil {
		return fmt.Errorf("%s cannot be read (%w): check its name", file, errors.Unwrap(err))
	}
	defer f.Close()
	name := filepath.Base(file)
	if strings.EqualFold(filepath.Ext(name), ".zip") {
		info, err := f.Stat()
		if err != nil {
			return fmt.Errorf("%s cannot be read (%w)", file, err)
		}
		if info.Size() <= plan.MaxFileBytes {
			data, err := io.ReadAll(f)
			if err != nil {
				return fmt.Errorf("%s cannot be read (%w)", file, err)
			}
			if exchange.IsPlanFile(data) {
				return importPlan(c, work, data)
			}
		}
		id, err := work.UploadShelf(c.Context(), name, f, info.Size())
		if err != nil {
			return err
		}
		return importList(c, work, id, leaveOut, update)
	}
	data, err := io.ReadAll(io.LimitReader(f, exchange.MaxListBytes+1))
	if err != nil {
		return fmt.Errorf("%s cannot be read (%w)", file, err)
	}
	if len(data) > exchange.MaxListBytes {
		return fmt.Errorf("%s is larger than %d MB: split it into smaller files", file, exchange.MaxListBytes>>20)
	}
	if exchange.IsPlanFile(data) {
		return importPlan(c, work, data)
	}
	id, err := work.Upload(c.Context(), name, data)
	if err != nil {
		return err
	}
	return importList(c, work, id, leaveOut, update)
}

func importList(c *cobra.Command, work *plan.Desk, id uint, leaveOut, update bool) error {
	p, err := work.Preview(c.Context(), id)
	if err != nil {
		return err
	}
	out := c.OutOrStdout()
	for _, b := range p.Bad {
		fmt.Fprintf(out, "line %d, %s: %s\n", b.Line, b.Text, b.Reason)
	}
	for _, up := range p.Updates {
		fmt.Fprintf(out, "line %d, %s: %s\n", up.Line, up.Card.Name, up.Words)
	}
	if len(p.Updates) > 0 && !update && !leaveOut {
		return fmt.Errorf("nothing was imported: %s on the shelf and would be changed. Add --update to change them, or --leave-out-bad to leave them as they are",
			words.Plural(len(p.Updates), "line is", "lines are"))
	}
	if len(p.Bad) > 0 && !leaveOut {
		return fmt.Errorf("nothing was imported: %d of %d lines are bad. Correct them, or add --leave-out-bad to import the others", len(p.Bad),
			len(p.Bad)+len(p.Good))
	}
	came, err := work.Confirm(c.Context(), id, func(int) bool { return update })
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%s %s left out.\n", came.Words(), words.Plural(len(p.Bad), "line was", "lines were"))
	return nil
}

func importPlan(c *cobra.Command, work *plan.Desk, data []byte) error {
	p, missing, err := work.Import(c.Context(), data)
	if err != nil {
		return err
	}
	fmt.Fprintf(c.OutOrStdout(), "%s is now plan %d.\n", p.Plan.Name, p.ID)
	if len(missing) > 0 {
		fmt.Fprintf(c.OutOrStdout(), "%s is missing: it is not in the file, and not here.\n", words.All(missing))
	}
	return nil
}

// desk is the desk of a data folder.
func desk(st *store.Store) *plan.Desk { return plan.NewDesk(shelf.New(st), stages.All()) }
