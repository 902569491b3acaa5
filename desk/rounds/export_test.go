package rounds

import (
	"context"
	"io/fs"

	"mivlet/desk/mirror"
)

// GoDue goes the rounds that are due.
func (d *Desk) GoDue(ctx context.Context) error { return d.goDue(ctx) }

// LiveFiles is the live site as files.
func (d *Desk) LiveFiles() (fs.FS, error) {
	site, err := d.mirror.Walk(mirror.Target{Base: d.Site, Relative: true}, new(mirror.Memory))
	return treeOf(site), err
}
