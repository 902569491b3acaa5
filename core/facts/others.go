package facts

import (
	"encoding/xml"
	"errors"
	"image"
	"io"
	"math"
	"strconv"
	"strings"

	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"

	"mivlet/core/fit"
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

// svgStructure reads the size of a drawing from its root element: width and
// height, else the viewBox (SVG 2, 8.2).
func svgStructure(r io.ReadSeeker) (structure, error) {
	s := structure{Frames: 1, Loop: 1, Alpha: true, Model: "drawing"}
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return s, err
	}
	d := xml.NewDecoder(io.LimitReader(r, 1<<20))
	d.Strict = false
	for {
		token, err := d.Token()
		if err != nil {
			return s, errors.New("no drawing begins in it")
		}
		root, ok := token.(xml.StartElement)
		if !ok {
			continue
		}
		if root.Name.Local != "svg" {
			return s, errors.New("it is XML, but no drawing")
		}
		box := fit.Size{}
		for _, a := range root.Attr {
			switch a.Name.Local {
			case "width":
				s.Size.W = length(a.Value)
			case "height":
				s.Size.H = length(a.Value)
			case "viewBox":
				if f := strings.Fields(strings.ReplaceAll(a.Value, ",", " ")); len(f) == 4 {
					box = fit.Size{W: length(f[2]), H: length(f[3])}
				}
			}
		}
		if s.Size.Empty() {
			s.Size = box
		}
		if s.Size.Empty() {
			s.Size = fit.Size{W: 300, H: 150} // what a browser gives a drawing without any size
		}
		return s, nil
	}
}

// length reads a length in CSS pixels; other units give 0.
func length(v string) int {
	f, err := strconv.ParseFloat(strings.TrimSuffix(strings.TrimSpace(v), "px"), 64)
	if err != nil || !(f > 0 && f < 1e6) {
		return 0
	}
	return int(math.Round(f))
}
