package main

import (
	"crypto/x509"
	"sync"

	"golang.org/x/crypto/x509roots/fallback/bundle"
)

// trustRoots has the program know whom to trust where the machine does not say, as in an image with
// nothing else. Commands that reach others call it; reading the list takes some milliseconds, which
// those that cut pictures do without.
var trustRoots = sync.OnceFunc(func() {
	pool := x509.NewCertPool()
	for root := range bundle.Roots() {
		made, err := x509.ParseCertificate(root.Certificate)
		if err != nil {
			continue // one that this Go cannot read is one less to trust
		}
		if root.Constraint == nil {
			pool.AddCert(made)
		} else {
			pool.AddCertWithConstraint(made, root.Constraint)
		}
	}
	x509.SetFallbackRoots(pool)
})
