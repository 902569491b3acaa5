package pictures

import (
	"context"

	"mivlet/store"
)

// Warm makes the previews that are missing, what waits first, and looks for the faces of
// what waits and lies on the bench, so that no screen has to wait for them. It stops when ctx ends.
func (d *Desk) Warm(ctx context.Context) error {
	for _, at := range []store.Station{store.Arrivals, store.Bench, store.Shelf} {
		ps, err := d.Store.PicturesAt(at)
		if err != nil {
			return err
		}
		for _, p := range ps {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if _, err := d.derive.WithLook(p, false); err != nil {
				return err
			}
			if at == store.Shelf || p.FacesBy >= FacesBy || d.Rules().Hiding.LeaveFace {
				continue // what stands on shelves is looked at when somebody asks
			}
			if _, err := d.FacesNow(p); err != nil {
				return err
			}
		}
	}
	return nil
}
