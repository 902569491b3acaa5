package desk

import (
	"errors"
	"io"
	"maps"
	"slices"

	"mivlet/desk/mirror"
)

// LiveSite has every file of the live site taken, with its path, as a site whose links hold wherever it lies. It is for
// those who keep the house.
func (d *Desk) LiveSite(take func(path string, file io.Reader) error) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	site, err := d.Mirror.Walk(mirror.Target{Base: "https://site.example/", Relative: true}, &mirror.Memory{})
	if err != nil {
		return err
	}
	defer site.Close()
	for _, path := range slices.Sorted(maps.Keys(site.Files)) {
		r, err := site.Open(site.Files[path])
		if err != nil {
			return err
		}
		if err := errors.Join(take(path, r), r.Close()); err != nil {
			return err
		}
	}
	return nil
}
