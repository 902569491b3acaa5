package facts

import (
	"image"
	"io"

	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"

	"mivlet/core/fit"
	"mivlet/core/svg"
)

// bmpStructure reads the head of a BMP (RFC 7903).
func bmpStructure(r io.ReadSeeker) (structure, error) { return configStructure(r, bmp.DecodeConfig) }

// tiffStructure reads the first picture of a TIFF (RFC 3302), and counts those that it holds.
func tiffStructure(r io.ReadSeeker) (structure, error) {
	s, err := configStructure(r, tiff.DecodeConfig)
	if err == nil {
		s.Pages = max(1, len(tiffPages(r)))
	}
	return s, err
}

func configStructure(r io.ReadSeeker, config func(io.Reader) (image.Config, error)) (structure, error) {
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return structure{}, err
	}
	cfg, err := config(r)
	return structure{Size: fit.Size{W: cfg.Width, H: cfg.Height}, Frames: 1, Loop: 1, Depth: 8, Model: "RGB"}, err
}

// svgStructure reads what a drawing says of itself. It has no pixels of its own: its size is that
// at which it is drawn.
func svgStructure(r io.ReadSeeker) (structure, error) {
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return structure{}, err
	}
	h, err := svg.Read(r)
	if err != nil {
		return structure{}, err
	}
	s := structure{Size: svg.Drawn(h.Size), Frames: 1, Loop: 1, Alpha: true, Depth: 8, Model: "drawing", CutOff: h.CutOff}
	s.Title, s.Description, s.Packed = h.Title, h.Description, h.Packed
	if h.Differs != (svg.Differs{}) {
		s.Differs = &h.Differs
	}
	return s, nil
}
