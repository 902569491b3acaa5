package rules

import (
	"encoding/hex"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/naming"
)

// Fault is one place of a document that cannot hold, with its reason.
type Fault struct {
	At   string `json:"at"` // path to the place, such as /slots/side/width
	Text string `json:"text"`
}

// Faults is an error that lists them all.
type Faults []Fault

func (f Faults) Error() string {
	lines := make([]string, len(f))
	for i, one := range f {
		lines[i] = one.At + ": " + one.Text
	}
	return strings.Join(lines, "\n")
}

// checker gathers faults.
type checker struct{ faults Faults }

func (c *checker) must(ok bool, at, format string, args ...any) {
	if !ok {
		c.faults = append(c.faults, Fault{at, fmt.Sprintf(format, args...)})
	}
}

// identifier is what IDs and codes are written in: they stand in addresses and
// names of classes.
var identifier = regexp.MustCompile(`^[a-z][a-z0-9-]{0,30}$`)

// What other values are written like.
var (
	extension   = regexp.MustCompile(`^\.[a-z0-9]{1,8}$`)
	colour      = regexp.MustCompile(`^#[0-9a-f]{6}$`)
	languageTag = regexp.MustCompile(`^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$`)
)

// Check returns every place where the rules contradict themselves or ask for
// what cannot be. Nil means that they hold.
func (r Rules) Check() Faults {
	c := &checker{}
	c.must(r.Version == Version, "/version", "%d is not known, this is version %d", r.Version, Version)
	c.must(strings.TrimSpace(r.House) != "", "/house", "the house needs a name")
	c.page(r.Page)
	c.slots(r)
	c.types(r)
	c.limits(r)
	c.naming(r)
	c.sections(r.Sections)
	c.categories(r)
	c.hiding(r.Hiding)
	c.spots(r)
	c.textSizes(r.TextSizes)
	return c.faults
}

// categories have codes of their own: their front pages stand beside those of sections.
func (c *checker) categories(r Rules) {
	seen := map[string]bool{}
	for _, s := range r.Sections {
		seen[s.Code] = true
	}
	for _, one := range r.Categories {
		at := "/categories/" + one.Code
		c.identity(at, one.Code, one.Title, seen)
		for _, was := range one.Was {
			c.must(identifier.MatchString(was) && !seen[was], at+"/was", "%q is the code of another category or section", was)
			seen[was] = true
		}
	}
}

func (c *checker) hiding(h Hiding) {
	c.must(h.Colour == "" || colour.MatchString(h.Colour), "/hiding/colour", "a colour is written as #rrggbb, such as #8a8f8c, not %q", h.Colour)
	c.must(len(h.Watch) <= 2000, "/hiding/watch", "2,000 words are watched for at most, not %d", len(h.Watch))
}

func (c *checker) page(p PageLayout) {
	c.must(p.Cap >= 320 && p.Cap <= 4000, "/page/cap", "a page is 320 to 4000 px wide, not %d", p.Cap)
	c.must(p.Breaks.Tablet >= 320 && p.Breaks.Tablet < p.Breaks.Desktop, "/page/breaks/tablet", "tablets begin at 320 px or above, and before desktops (%d)", p.Breaks.Desktop)
	c.must(p.Breaks.Desktop <= 3000, "/page/breaks/desktop", "desktops begin at 3000 px at the latest")
	for _, one := range []struct {
		name    string
		lengths layout.Lengths
	}{{"padding", p.Padding}, {"gutter", p.Gutter}, {"column_padding", p.ColumnPadding}} {
		for _, d := range layout.Devices {
			v := one.lengths.On(d)
			c.must(v >= 0 && v <= 400, fmt.Sprintf("/page/%s/%s", one.name, d), "0 to 400 px, not %d", v)
		}
	}
	c.must(len(p.Patterns) > 0, "/page/patterns", "a page needs a column plan")
	seen := map[string]bool{}
	for _, t := range p.Patterns {
		at := "/page/patterns/" + t.ID
		c.identity(at, t.ID, t.Title, seen)
		c.must(len(t.Shares) >= 1 && len(t.Shares) <= 4, at+"/shares", "one to four columns, not %d", len(t.Shares))
		for _, s := range t.Shares {
			c.must(s > 0 && s <= 12, at+"/shares", "a share is above 0, up to 12, not %v", s)
		}
		c.must(t.Cap == 0 || t.Cap >= 200 && t.Cap <= 4000, at+"/cap", "0 for as wide as the page, or 200 to 4000 px, not %d", t.Cap)
		c.must(len(t.Order) == 0 || permutation(t.Order, len(t.Shares)), at+"/order", "each column once, counted from 0")
	}
	for i, s := range p.Spacing {
		c.must(s >= 0 && s <= 400 && (i == 0 || s > p.Spacing[i-1]), "/page/spacing", "steps go up from 0 to 400 px")
	}
}

func (c *checker) identity(at, id, title string, seen map[string]bool) {
	c.must(identifier.MatchString(id), at, "%q must be lower-case letters, digits and hyphens, beginning with a letter", id)
	c.must(!seen[id], at, "%q is there twice", id)
	c.must(strings.TrimSpace(title) != "", at+"/title", "it needs a title")
	seen[id] = true
}

func permutation(order []int, n int) bool {
	sorted := slices.Sorted(slices.Values(order))
	for i, v := range sorted {
		if v != i {
			return false
		}
	}
	return len(order) == n
}

func (c *checker) slots(r Rules) {
	c.must(len(r.Slots) > 0, "/slots", "a house needs a slot")
	seen := map[string]bool{}
	stands := false
	for _, s := range r.Slots {
		at := "/slots/" + s.ID
		c.identity(at, s.ID, s.Title, seen)
		c.space(r, s, at)
		stands = stands || s.Stands()
		c.must(len(s.Densities) > 0, at+"/densities", "at least one density")
		for i, d := range s.Densities {
			c.must(d >= 0.5 && d <= 4 && (i == 0 || d > s.Densities[i-1]), at+"/densities", "densities go up from 0.5 to 4")
		}
		c.must(s.Budget >= 1000 && s.Budget <= 20_000_000, at+"/budget", "1,000 to 20,000,000 bytes, not %d", s.Budget)
		w, h := s.shape()
		c.must(s.Shape == "" || w > 0 && s.Stands(), at+"/shape", "proportions are written like 3:2, for a slot whose width rules, not %q", s.Shape)
		c.must(w <= 8*h && h <= 8*w, at+"/shape", "one side is at most 8 times the other, not %q", s.Shape)
		c.must(s.Buffer >= 0 && s.Buffer <= 600, at+"/buffer", "0 to 600 px, not %d", s.Buffer)
		for _, f := range s.Formats {
			c.must(slices.Contains([]string{"jpeg", "png", "gif", "webp"}, f), at+"/formats", "%q is not one of jpeg, png, gif, webp", f)
		}
	}
	c.must(stands || len(r.Slots) == 0, "/slots", "at least one slot must be a place in the text: a column or a width")
}

func (c *checker) space(r Rules, s Slot, at string) {
	switch {
	case s.Pattern != "":
		p, ok := r.Pattern(s.Pattern)
		c.must(ok, at+"/pattern", "there is no column plan %q", s.Pattern)
		c.must(!ok || s.Column >= 0 && s.Column < len(p.Shares), at+"/column", "column plan %q has %d columns, counted from 0", s.Pattern, len(p.Shares))
		c.must(s.Height == 0 && !s.Inside, at+"/height", "a slot that follows from a column has no height of its own")
		c.must(s.Rule.Fixed >= 0 && s.Rule.Fixed <= 4000, at+"/rule/fixed", "0 to 4000 px, not %d", s.Rule.Fixed)
		c.must(s.Rule.Percent >= 0 && s.Rule.Percent <= 100, at+"/rule/percent", "0 to 100, not %v", s.Rule.Percent)
		c.must(s.Rule.Cap >= 0 && s.Rule.Cap <= 4000, at+"/rule/cap", "0 to 4000 px, not %d", s.Rule.Cap)
		c.must(s.Rule.Fixed == 0 || s.Rule.Percent == 0, at+"/rule", "fixed or in percent, not both")
		if ok && s.Column >= 0 && s.Column < len(p.Shares) {
			c.must(r.Place(s).Full() >= 10, at+"/pattern", "nothing is left for the picture: %d px", r.Place(s).Full())
		}
	default:
		c.must(s.Width > 0 || s.Height > 0, at+"/width", "it needs a width, a height, or a column to follow from")
		c.must(s.Width >= 0 && s.Width <= 6000, at+"/width", "up to 6000 px, not %d", s.Width)
		c.must(s.Height >= 0 && s.Height <= 6000, at+"/height", "up to 6000 px, not %d", s.Height)
		c.must(!s.Inside || s.Width > 0 && s.Height > 0, at+"/inside", "a box to stay inside needs a width and a height")
	}
}

func (c *checker) types(r Rules) {
	seen := map[string]bool{}
	kept := false
	for _, t := range r.Types {
		at := "/types/" + t.MediaType
		c.must(strings.Contains(t.MediaType, "/") && t.MediaType == strings.ToLower(t.MediaType), at, "%q is no media type, such as image/jpeg", t.MediaType)
		c.must(!seen[t.MediaType], at, "%q is there twice", t.MediaType)
		c.must(strings.TrimSpace(t.Title) != "", at+"/title", "it needs a title")
		seen[t.MediaType] = true
		c.must(extension.MatchString(t.Extension), at+"/extension", "%q is no extension, such as .jpg", t.Extension)
		if ext := known[t.MediaType]; ext != "" {
			c.must(t.Extension == ext, at+"/extension", "files of this type end in %s", ext)
			c.must(t.Bytes == "", at+"/bytes", "how this type is recognised is known")
		} else {
			lead, err := hex.DecodeString(t.Bytes)
			c.must(err == nil && len(lead) >= 2 && len(lead) <= 32, at+"/bytes", "2 to 32 leading bytes in hex, such as 25504446")
			c.must(t.Do != Convert, at+"/do", "Mivlet cannot read this type, so it cannot convert it")
		}
		c.must(slices.Contains(r.Acts(), t.Do), at+"/do", "keep, convert or refuse, not %q", t.Do)
		c.must(!t.Drawing() || t.Do != Keep, at+"/do", "a drawing can carry scripts: convert it to a picture, or refuse it")
		c.must(!Acts(t.MediaType) || t.Do == Refuse || t.Drawing(), at+"/do", "files of this type can act in a browser, so they can only be refused")
		c.must((t.Do == Convert) == (t.To != ""), at+"/to", "what it is converted to belongs to converting, and only there")
		c.must(t.To == "" || slices.Contains(targets, t.To), at+"/to", "a picture is converted to JPEG, PNG or WebP, not %q", t.To)
		c.must(t.Do != Refuse || strings.TrimSpace(t.Say) != "", at+"/say", "say what the editor can do instead")
		kept = kept || t.Do != Refuse && !t.Own()
	}
	c.must(kept, "/types", "at least one type of picture must be taken")
}

func (c *checker) limits(r Rules) {
	l, p, w := r.Limits, r.Placing, r.Words
	c.must(l.Bytes >= 100_000 && l.Bytes <= 500_000_000, "/limits/bytes", "100,000 to 500,000,000 bytes, not %d", l.Bytes)
	c.must(l.Side >= 1000 && l.Side <= 65_535, "/limits/side", "1,000 to 65,535 px, not %d", l.Side)
	c.must(l.Pixels >= 1_000_000 && l.Pixels <= 400_000_000, "/limits/pixels", "1,000,000 to 400,000,000 px, not %d", l.Pixels)
	c.must(l.Frames >= 1 && l.Frames <= 10_000, "/limits/frames", "1 to 10,000 frames, not %d", l.Frames)
	c.must(l.FramePixels >= 1_000_000 && l.FramePixels <= 1_000_000_000, "/limits/frame_pixels", "1 to 1,000 million, not %d", l.FramePixels)
	c.must(l.BinDays >= 1 && l.BinDays <= 3650, "/limits/bin_days", "1 to 3650 days, not %d", l.BinDays)
	c.must(p.Air >= 0 && p.Air <= 100, "/placing/air", "0 to 100 px, not %d", p.Air)
	c.must(p.Line >= 0 && p.Line <= 20, "/placing/line", "0 to 20 px, not %d", p.Line)
	c.must(colour.MatchString(p.LineColour), "/placing/line_colour", "a colour is written like #8a8172, not %q", p.LineColour)
	c.must(slices.Contains(r.Links(), p.Link), "/placing/link", "none or enlarge, not %q", p.Link)
	c.must(p.Enlarged >= 200 && p.Enlarged <= 4000, "/placing/enlarged", "200 to 4000 px, not %d", p.Enlarged)
	c.must(p.CacheHours >= 1 && p.CacheHours <= 24*365, "/placing/cache_hours", "1 hour to a year (8,760 hours), not %d", p.CacheHours)
	c.must(slices.Contains(r.CutMarks(), p.CutMark), "/placing/cut_mark", "query or suffix, not %q", p.CutMark)
	for _, k := range p.Keep {
		c.must(k == "credit" || k == "alt", "/placing/keep", "credit and alt may stay, not %q", k)
	}
	for _, f := range p.Lighter {
		c.must(slices.Contains(LighterFormats, f), "/placing/lighter", "avif and webp may be offered beside JPEG, not %q", f)
	}
	c.must(languageTag.MatchString(w.Language), "/words/language", "a language is written like en or de-CH, not %q", w.Language)
	c.must(w.LongestAlt >= 40 && w.LongestAlt <= 1000, "/words/longest_alt", "40 to 1000 characters, not %d", w.LongestAlt)
	c.must(w.LongestCaption >= 40 && w.LongestCaption <= 2000, "/words/longest_caption", "40 to 2000 characters, not %d", w.LongestCaption)
}

func (c *checker) naming(r Rules) {
	n := r.Naming
	seen := map[naming.Kind]bool{}
	for _, p := range n.Parts {
		at := "/naming/parts/" + string(p.Kind)
		c.must(slices.Contains(naming.Kinds, p.Kind), at, "%q is no part of a name", p.Kind)
		c.must(!seen[p.Kind], at, "it is there twice")
		seen[p.Kind] = true
		if p.Kind == naming.Taken || p.Kind == naming.Today {
			c.must(slices.Contains(naming.DateForms, p.Form), at+"/form", "%q is no form of a date", p.Form)
		}
		if p.Kind == naming.Number {
			c.must(p.Width >= 1 && p.Width <= 6, at+"/width", "1 to 6 digits, not %d", p.Width)
			c.must(p.Start >= 0 && p.Start <= 1000, at+"/start", "0 to 1000, not %d", p.Start)
		}
	}
	c.must(seen[naming.Subject], "/naming/parts", "a name needs its subject")
	c.must(slices.Contains(r.Joiners(), n.Joiner) && (n.Joiner != "" || n.Case == naming.Capitals), "/naming/joiner", "a hyphen or an underscore; nothing only where capitals part the words")
	c.must(slices.Contains(r.Cases(), n.Case), "/naming/case", "lower, capitals or typed, not %q", n.Case)
	c.must(n.Longest >= 20 && n.Longest <= 120, "/naming/longest", "20 to 120 characters, not %d", n.Longest)
}

func (c *checker) sections(all []Section) {
	c.must(len(all) > 0, "/sections", "a house needs a section")
	seen, folders := map[string]bool{}, map[string]bool{}
	for _, s := range all {
		at := "/sections/" + s.Code
		c.identity(at, s.Code, s.Title, seen)
		c.must(slices.Contains(Signs, s.Sign), at+"/sign", "%q is no sign", s.Sign)
		c.must(identifier.MatchString(s.Folder), at+"/folder", "%q must be lower-case letters, digits and hyphens, beginning with a letter", s.Folder)
		c.must(!folders[s.Folder], at+"/folder", "another section has it")
		c.must(s.UnusedDays == 0 || s.UnusedDays >= LeastUnusedDays && s.UnusedDays <= MostUnusedDays, at+"/unused_days", "%d to %d days, or 0 for never, not %d", LeastUnusedDays, MostUnusedDays, s.UnusedDays)
		folders[s.Folder] = true
	}
}
