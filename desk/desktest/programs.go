package desktest

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/internal/sealed"
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
	o := desk.Options{Now: b.clock, SiteURL: b.Site}
	set(&o)
	d, err := desk.New(&b.Kept.Store, o)
	require.NoError(t, err)
	t.Cleanup(d.Jobs.End)
	return d
}
