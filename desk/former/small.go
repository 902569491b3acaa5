package former

import (
	"bytes"
	"io/fs"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/desk/access"
)

// largestSmall is how many pixels a picture has on a side that is shown small, at most.
const largestSmall = 1200

// Small returns a picture of a former site for the screen, no side larger than side: what was brought in may
// have megabytes. What cannot be decoded is refused; a browser may show it nevertheless, see [Desk.Open].
func (d *Desk) Small(id uint, at string, side int) ([]byte, error) {
	f, found, err := d.surveyed(id)
	if err != nil {
		return nil, err
	}
	k := found.Files[at]
	if k == nil || k.Facts == nil || k.Facts.MediaType == "image/svg+xml" {
		return nil, access.Refuse(access.Missing, "There is no such picture in that site.", "")
	}
	a, err := d.Store.OpenFormer(f.Hash)
	if err != nil {
		return nil, err
	}
	defer a.Close()
	data, err := fs.ReadFile(a, at)
	if err != nil {
		return nil, err
	}
	d.decoding <- struct{}{}
	defer func() { <-d.decoding }()
	own := k.Facts.Upright()
	wanted := fit.Inside(own, fit.Size{W: min(side, largestSmall), H: min(side, largestSmall)})
	if wanted.W > own.W {
		wanted = own
	}
	source, err := raster.DecodeFor(bytes.NewReader(data), *k.Facts, d.limits(), wanted)
	if err != nil {
		return nil, d.RefuseFile(at, err)
	}
	return raster.EncodeForScreen(source.Glance(wanted).Image())
}
