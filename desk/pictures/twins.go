package pictures

import (
	"cmp"
	"log/slog"
	"slices"

	"mivlet/core/twin"
	"mivlet/desk/derive"
	"mivlet/store"
)

// mostNear is how many near-twins are shown.
const mostNear = 4

// known is what pictures are compared by.
type known struct {
	id    uint
	hash  twin.Hash
	crops twin.Crops
}

// FillCrops finds what pictures are known by when a tenth of them is cut off, for so many at most of
// those that came before that was looked for. It returns how many it found it for; what cannot be
// read is left as it is.
func (d *Desk) FillCrops(most int) (filled int, err error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	all, err := d.Store.Twins()
	if err != nil {
		return 0, err
	}
	for _, t := range all {
		if len(t.TwinCrops) > 0 || most <= 0 {
			continue
		}
		most--
		p, err := d.Store.Picture(t.ID)
		if err != nil {
			continue // it has gone since
		}
		copied, done, err := d.derive.WorkingCopy(p)
		if err != nil {
			slog.Warn("what a picture is known by when it is cropped was not found", "picture", p.ID, "error", err)
			continue
		}
		crops := derive.CropsOf(copied)
		done()
		if p, err = d.Store.Picture(t.ID); err != nil { // its copy may have been made just now
			continue
		}
		p.TwinCrops = crops
		there, err := d.Store.SetPreview(p)
		if err != nil {
			return filled, err
		}
		if there {
			filled++
		}
	}
	return filled, nil
}

// NearTwins finds the pictures that show the same photos as some, turned and mirrored or not, or with a
// tenth cut off, by the numbers of those, as far as whoever is at the desk may see them.
func (d *Desk) NearTwins(ps []store.Picture) (map[uint][]store.Picture, error) {
	all, err := d.Store.Twins()
	if err != nil {
		return nil, err
	}
	type near struct {
		id       uint
		distance int
	}
	others := make([]known, len(all))
	for i, t := range all {
		others[i] = known{t.ID, HashOf(t.TwinA, t.TwinB, t.TwinC), twin.ReadCrops(t.TwinCrops)}
	}
	found := map[uint][]near{}
	var ids []uint
	for _, p := range ps {
		own := HashOf(p.TwinA, p.TwinB, p.TwinC)
		if own.Flat() {
			continue
		}
		var nearest []near
		ways, crops := own.Ways(), twin.ReadCrops(p.TwinCrops)
		for _, t := range others {
			if t.id == p.ID {
				continue
			}
			if n := min(ways.Apart(t.hash), crops.Distance(t.hash), t.crops.Distance(own)); n <= twin.Near {
				nearest = append(nearest, near{t.id, n})
			}
		}
		slices.SortFunc(nearest, func(a, b near) int { return cmp.Or(a.distance-b.distance, int(a.id)-int(b.id)) })
		found[p.ID] = nearest[:min(len(nearest), mostNear)]
		for _, f := range found[p.ID] {
			ids = append(ids, f.id)
		}
	}
	pictures, err := d.Store.PicturesIn(ids)
	if err != nil {
		return nil, err
	}
	twins := map[uint][]store.Picture{}
	for _, p := range ps {
		for _, f := range found[p.ID] {
			if t, ok := pictures[f.id]; ok && d.Sees(t) && t.VariantOf != p.ID && t.OriginalHash != p.OriginalHash {
				twins[p.ID] = append(twins[p.ID], t)
			}
		}
	}
	return twins, nil
}

// HashOf reads a perceptual hash as it is kept.
func HashOf(a, b, c int64) twin.Hash { return twin.Hash{uint64(a), uint64(b), uint64(c)} }
