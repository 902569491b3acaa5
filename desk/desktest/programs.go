package desktest

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/internal/sealed"
	"mivlet/store"
)

// WithKey gives a house a key that secrets are kept under.
func WithKey(t *testing.T) func(*desk.Options) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "key")
	return func(o *desk.Options) {
		o.Sealer = func() (access.Sealer, error) { return sealed.Load(file) }
	}
}

// Beside is the desk of another program on the same house, with the same options.
func (b *Fixture) Beside(t *testing.T, set func(*desk.Options)) *desk.Desk {
	t.Helper()
	return b.Among(t, b.Kept.Fellows, set)
}

// Among is the desk of a program that hears others.
func (b *Fixture) Among(t *testing.T, others store.Fellows, set func(*desk.Options)) *desk.Desk {
	t.Helper()
	o := desk.Options{Now: b.clock, SiteURL: b.Site}
	set(&o)
	kept := b.Kept.Store
	kept.Fellows = others
	d, err := desk.New(&kept, o)
	require.NoError(t, err)
	t.Cleanup(d.Jobs.End)
	return d
}
