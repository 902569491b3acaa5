package main

import (
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/crypto/acme"
	"golang.org/x/crypto/acme/autocert"
)

// certified has certificates made for the names that Mivlet is reached by, and renewed in time (RFC 8555;
// who asks proves that the name leads here on the same port, RFC 8737).
type certified struct {
	on        bool
	mail      string // that whoever makes them writes to
	directory string // address of who makes them; empty for the usual one
	roots     string // file of certificates that whoever makes them is known by; empty for the machine's own
}

// certificatesIn is the folder of certificates and their keys, in the data folder. No backup holds it.
const certificatesIn = "certificates"

func (c *certified) flags(cmd *cobra.Command) {
	cmd.Flags().BoolVar(&c.on, "acme", false, "have certificates made and renewed for the names of --host, and agree to the terms of who makes them")
	cmd.Flags().StringVar(&c.mail, "acme-mail", "", "e-mail address that whoever makes certificates may write to")
	cmd.Flags().StringVar(&c.directory, "acme-directory", "", "address of who makes certificates (default "+autocert.DefaultACMEDirectory+")")
	cmd.Flags().StringVar(&c.roots, "acme-roots", "", "file of certificates that whoever makes them is known by (default: those that the machine trusts)")
}

// checkTLS refuses what cannot be, before anything is started.
func (o *serving) checkTLS() error {
	switch {
	case (o.cert == "") != (o.key == ""):
		return errors.New("--cert and --key go together")
	case !o.certified.on:
		return nil
	case o.cert != "" || o.behindTLS:
		return errors.New("--acme makes certificates: it goes with neither --cert nor --behind-tls")
	case len(o.hosts) == 0:
		return errors.New("--acme needs --host, a name that a certificate is made for")
	}
	for _, host := range o.hosts {
		if net.ParseIP(host) != nil || !strings.Contains(host, ".") {
			return fmt.Errorf("invalid host %q: --acme has certificates made for names such as mivlet.club.example", host)
		}
	}
	_, err := o.certified.client()
	return err
}

func (c *certified) client() (*acme.Client, error) {
	made := &acme.Client{DirectoryURL: c.directory, UserAgent: "Mivlet"}
	if c.directory == "" {
		made.DirectoryURL = autocert.DefaultACMEDirectory
	}
	if c.roots == "" {
		return made, nil
	}
	text, err := os.ReadFile(c.roots)
	if err != nil {
		return nil, fmt.Errorf("invalid acme-roots %q: %w", c.roots, err)
	}
	pool := x509.NewCertPool()
	if !pool.AppendCertsFromPEM(text) {
		return nil, fmt.Errorf("invalid acme-roots %q: there is no certificate in it", c.roots)
	}
	through := http.DefaultTransport.(*http.Transport).Clone()
	through.TLSClientConfig = &tls.Config{RootCAs: pool, MinVersion: tls.VersionTLS12}
	made.HTTPClient = &http.Client{Transport: through, Timeout: time.Minute}
	return made, nil
}

// tls is how Mivlet speaks TLS; nil where it does not, or with a certificate of its own.
func (o *serving) tls() (*tls.Config, error) {
	if !o.certified.on {
		return nil, nil
	}
	client, err := o.certified.client()
	if err != nil {
		return nil, err
	}
	m := autocert.Manager{Prompt: autocert.AcceptTOS, Cache: autocert.DirCache(filepath.Join(o.data, certificatesIn)), HostPolicy: autocert.HostWhitelist(o.hosts...), Client: client, Email: o.certified.mail}
	return m.TLSConfig(), nil
}
