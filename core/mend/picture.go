package mend

import (
	"cmp"
	"fmt"
	"math"
	"path"
	"slices"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/survey"
)

// formats are what cuts are written as, by what the file is. Pictures of other types are not cut.
var formats = map[string]raster.Format{"image/jpeg": raster.JPEG, "image/png": raster.PNG, "image/webp": raster.WebP, "image/avif": raster.AVIF}

// formatOf is what cuts of a file are written as; "" where it is not cut. What moves stays of its type; an animated PNG
// cannot be written.
func formatOf(k facts.Facts) raster.Format {
	switch {
	case k.MediaType == "image/gif" && k.KeepsMotion():
		return raster.GIF
	case k.KeepsMotion() && k.MediaType != "image/webp":
		return ""
	case k.MediaType == "image/gif", k.MediaType == "image/bmp" && !survey.IsUncompressedPhoto(k):
		return raster.PNG
	case k.MediaType == "image/bmp", survey.IsPhotoAsPNG(k):
		return raster.JPEG
	}
	return formats[k.MediaType]
}

// Covers reports whether parts of such a file can be covered: it can be written anew as what it is, and stands still.
func Covers(k facts.Facts) bool { return formats[k.MediaType] != "" && !k.KeepsMotion() }

// isA reports whether a file of a type is what a format writes.
func isA(mediaType string, format raster.Format) bool { return mediaType == "image/"+string(format) }

// cleanable are types that can be cleaned without loss.
var cleanable = []string{"image/jpeg", "image/png", "image/gif", "image/webp"}

// picture decides what happens to a file.
func (p *planning) picture(f *survey.File) {
	covering := p.choices.Covered[f.Path]
	if f.Facts == nil || covering == nil && p.choices.Left[f.Path] {
		return
	}
	one := &Picture{Path: f.Path, facts: *f.Facts, covering: covering}
	p.pictures[f.Path] = one
	if covering != nil {
		one.Kinds = append(one.Kinds, Covered)
	}
	if slices.Contains(cleanable, f.Facts.MediaType) && tells(f.Facts) {
		one.Kinds = append(one.Kinds, Cleaned)
	}
	if p.same[f.Path] != "" {
		return // its pages show the other
	}
	stem := p.rename(one, f)
	one.format = formatOf(*f.Facts)
	p.cuts(one, f, stem)
}

// tells reports whether a file tells of people, or of where and when it was taken.
func tells(k *facts.Facts) bool {
	return k.Position || k.Serial || k.MakerNotes || k.Thumbnail || len(k.People) > 0 || !k.Taken.IsZero() || k.Camera != ""
}

// rename finds the path that a picture gets, where it gets another one, and returns it without its ending.
func (p *planning) rename(one *Picture, f *survey.File) string {
	folder, base := path.Split(f.Path)
	ending := path.Ext(base)
	stem := strings.TrimSuffix(base, ending)
	chosen := p.choices.Names[f.Path]
	if chosen != "" {
		stem = chosen
	}
	if right := facts.Extension(f.Facts.MediaType); right != "" && !survey.SameEnding(strings.ToLower(ending), right) {
		ending = right
	}
	if to := folder + stem + ending; to != f.Path && len(p.uses[f.Path]) > 0 {
		one.also = p.free(to)
		one.Kinds = append(one.Kinds, Named)
		return strings.TrimSuffix(one.also, path.Ext(one.also))
	}
	return strings.TrimSuffix(f.Path, path.Ext(f.Path))
}

// cuts decides at which widths a picture is cut.
func (p *planning) cuts(one *Picture, f *survey.File, stem string) {
	own := f.Facts.Upright()
	all, every := []float64{}, len(p.uses[f.Path]) > 0
	for _, u := range p.uses[f.Path] {
		if u.keep {
			all = append(all, u.use.Shown[:]...)
		}
		every = every && u.keep
	}
	widths := ladder(own, all)
	wrongType := survey.IsPhotoAsPNG(*f.Facts) || survey.IsUncompressed(*f.Facts)
	if one.format == "" || len(widths) == 0 || float64(own.W) < survey.TooLarge*float64(widths[0]) && !wrongType {
		return
	}
	if f.Facts.KeepsMotion() {
		widths = widths[:1] // several would be heavy on the server, and take long
	}
	one.Kinds = append(one.Kinds, Lighter)
	ending := facts.Extension("image/" + string(one.format))
	// Where all that shows it keeps its size, the widest cut takes the place of the file itself.
	same := isA(f.Facts.MediaType, one.format)
	mentioned := p.whole[f.Path] || p.mentions(f.Path)
	for i, w := range widths {
		c := Cut{Size: fit.ByWidth(own, w)}
		if i == 0 && every && !mentioned && same {
			c.Path = cmp.Or(one.also, f.Path)
			one.own = &c
		} else {
			c.Path = p.free(fmt.Sprintf("%s-%d%s", stem, w, ending))
		}
		one.Cuts = append(one.Cuts, c)
	}
}

// mentions reports whether something may speak of a file, or of one of the same content, that is no tag of a
// picture which is known.
func (p *planning) mentions(at string) bool {
	if p.speaksOf(at) {
		return true
	}
	for other, first := range p.same {
		if first == at && p.speaksOf(other) {
			return true
		}
	}
	return false
}

// speaksOf is the same for one file. Of a name that cannot be told from what stands around it, such as one with
// a space in it, nobody knows.
func (p *planning) speaksOf(at string) bool {
	name := strings.ToLower(path.Base(at))
	return p.mentioned[name] || named.FindString(name) != name
}

// The widths of cuts.
const (
	step     = 0.8 // a cut that is closer than this to the next wider one is not worth a file
	mostCuts = 5
	even     = 16 // pixels by which a cut may be wider, so that its height comes out even
)

// ladder are the widths in pixels of the cuts that a picture needs which is shown so wide, in CSS pixels, the
// widest first; none where it has none of that width.
func ladder(own fit.Size, shown []float64) []int {
	var wanted []float64
	for _, s := range shown {
		if s >= 1 {
			wanted = append(wanted, s, s*survey.Densest)
		}
	}
	slices.Sort(wanted)
	slices.Reverse(wanted)
	var all []int
	for _, w := range wanted {
		n := evened(own, int(math.Ceil(w)))
		if n > own.W || len(all) > 0 && float64(n) > step*float64(all[len(all)-1]) {
			continue
		}
		if all = append(all, n); len(all) == mostCuts {
			break
		}
	}
	if len(all) > 0 && wanted[0] > float64(own.W) {
		all = append([]int{own.W}, all...) // sharper than it is nobody can make it
	}
	return all
}

// evened is a width that is a little larger, at which the height needs the least rounding: a picture that is
// as wide as before is as high as before then.
func evened(own fit.Size, w int) int {
	best, least := w, math.Inf(1)
	for n := w; n <= min(w+even, own.W); n++ {
		high := float64(n) * float64(own.H) / float64(own.W)
		if off := math.Abs(high-math.Round(high)) / float64(n); off < least-1e-9 {
			best, least = n, off
		}
	}
	return best
}
