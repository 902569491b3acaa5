package derive

import (
	"slices"

	"mivlet/core/private"
	"mivlet/core/raster"
)

// Inspect tells how many faces can be made out in a picture, and what of people can be read in it, each kind once. With
// nil for the reader nothing is read; watch are the words that the house watches for. In a picture of a site two words
// with capitals are no name yet: only what says that it is one is told.
func Inspect(src *raster.Source, reader Reader, watch []string) (faces int, tells []private.Kind) {
	if reader != nil && reader.Ready() {
		for _, r := range reader.Read(src.Glance(CopySize(src.Upright())).Image()) {
			for _, t := range private.Judge(r.Text, watch...) {
				if !slices.Contains(tells, t.Kind) {
					tells = append(tells, t.Kind)
				}
			}
		}
	}
	slices.Sort(tells)
	return len(FindFacesClosely(src)), tells
}

// Inspect is the same by the rules of the house: it does not look for faces where the house does not.
func (d *Desk) Inspect(src *raster.Source) (faces int, tells []private.Kind) {
	faces, tells = Inspect(src, d.reader, d.Rules().Hiding.Watch)
	if d.Rules().Hiding.LeaveFace {
		faces = 0
	}
	return faces, tells
}
