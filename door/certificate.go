package door

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// Files of the certificate that is made on the spot, in the data folder.
const (
	certFile  = "door.crt"
	keyFile   = "door.key"
	certLasts = 2 * 365 * 24 * time.Hour
	renewOn   = 30 * 24 * time.Hour // before it ends
)

// Certificate is the maker's certificate, or, without files, one that is made on the spot
// and kept in the data folder for these names.
func Certificate(dir, cert, key string, names []string) (tls.Certificate, error) {
	if cert != "" || key != "" {
		c, err := tls.LoadX509KeyPair(cert, key)
		if err != nil {
			return c, fmt.Errorf("the certificate cannot be used (%w): give --tls-cert and --tls-key, both in PEM", err)
		}
		return c, nil
	}
	cert, key = filepath.Join(dir, certFile), filepath.Join(dir, keyFile)
	kept, err := tls.LoadX509KeyPair(cert, key)
	switch {
	case err == nil && covers(kept, names):
		return kept, nil
	case err != nil && !errors.Is(err, fs.ErrNotExist):
		return kept, fmt.Errorf("the certificate in the data folder cannot be read (%w): delete %s and %s, and new ones are made", err,
			certFile, keyFile)
	}
	if err := make509(cert, key, names); err != nil {
		return kept, fmt.Errorf("making a certificate: %w", err)
	}
	return tls.LoadX509KeyPair(cert, key)
}

// covers reports whether a certificate lasts for a while and is for all names.
func covers(c tls.Certificate, names []string) bool {
	if c.Leaf == nil || time.Until(c.Leaf.NotAfter) < renewOn {
		return false
	}
	for _, n := range names {
		if c.Leaf.VerifyHostname(n) != nil {
			return false
		}
	}
	return true
}

func make509(cert, key string, names []string) error {
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return err
	}
	serial, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		return err
	}
	now := time.Now()
	template := x509.Certificate{SerialNumber: serial, Subject: pkix.Name{CommonName: "Lamp Fern of this workroom"},
		NotBefore: now.Add(-time.Hour), NotAfter: now.Add(certLasts),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}, BasicConstraintsValid: true}
	for _, n := range names {
		if ip := net.ParseIP(n); ip != nil {
			template.IPAddresses = append(template.IPAddresses, ip)
		} else {
			template.DNSNames = append(template.DNSNames, n)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, &template, &template, &private.PublicKey, private)
	if err != nil {
		return err
	}
	secret, err := x509.MarshalPKCS8PrivateKey(private)
	if err != nil {
		return err
	}
	if err := os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: secret}), 0o600); err != nil {
		return err
	}
	return os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o644)
}

// Fingerprint is the SHA-256 of a certificate in pairs of letters, to be compared with what
// a browser shows.
func Fingerprint(c tls.Certificate) string {
	if len(c.Certificate) == 0 {
		return ""
	}
	sum := sha256.Sum256(c.Certificate[0])
	return strings.ReplaceAll(strings.ToUpper(fmt.Sprintf("% x", sum[:])), " ", ":")
}

// Names are the host names of a certificate for an address and further names.
func (h Hosts) Names() (out []string) {
	for n := range h.names {
		out = append(out, n)
	}
	return append(out, "localhost", "127.0.0.1")
}
