package survey

import (
	"fmt"
	"strings"

	"mivlet/core/fit"
	"mivlet/core/words"
)

// Form is the form of reports. It changes when what is in them means something else.
const Form = 1

// Report is all that was found, as it is given out.
type Report struct {
	Form     int       `json:"form"`
	Sum      Sum       `json:"sum"`
	Columns  []Column  `json:"columns"` // widths at which pictures are shown on a desktop
	Findings []Finding `json:"findings"`
}

// Sum is a site in numbers.
type Sum struct {
	Pages       int   `json:"pages"`
	Pictures    int   `json:"pictures"`
	Bytes       int64 `json:"bytes"`       // of all pictures
	CouldBe     int64 `json:"could_be"`    // about as many bytes would do
	PerPage     int64 `json:"per_page"`    // bytes of pictures that a visitor at a desk gets with a page, as a mean
	Undescribed int   `json:"undescribed"` // pictures on pages without a description
	Positions   int   `json:"positions"`   // files that tell where they were taken
	Private     int   `json:"private"`     // files that tell of people, those among them
	Stop        int   `json:"stop"`        // findings of each level
	Warn        int   `json:"warn"`
	Hint        int   `json:"hint"`
	// Comes are the bytes of pictures that come with a page in windows of 390, 768 and 1280 px, as a browser took them: as
	// a mean. Nil where none measured.
	Comes     []int64 `json:"comes,omitempty"`
	Estimated bool    `json:"estimated"` // widths follow from HTML and CSS on some page; no browser measured them
}

// Report sums up.
func (s *Survey) Report() Report {
	r := Report{Form: Form, Findings: s.Findings(), Columns: s.Columns(), Sum: Sum{Pages: len(s.Pages) + len(s.unread)}}
	for _, p := range s.Pages {
		r.Sum.Estimated = r.Sum.Estimated || !p.measured && len(p.Uses) > 0
	}
	if r.Columns == nil {
		r.Columns = []Column{}
	}
	if r.Findings == nil {
		r.Findings = []Finding{}
	}
	r.Sum.PerPage, r.Sum.Comes = s.perPage(), s.comes()
	again := map[string]bool{} // the same content is needed once
	for _, f := range s.files() {
		if !f.Picture() {
			continue
		}
		r.Sum.Pictures++
		r.Sum.Bytes += f.Bytes
		if f.Hash == "" || !again[f.Hash] {
			r.Sum.CouldBe += f.couldBe()
		}
		again[f.Hash] = f.Hash != ""
	}
	private := map[string]bool{}
	for _, f := range r.Findings {
		switch f.Level {
		case words.Stop:
			r.Sum.Stop++
		case words.Warn:
			r.Sum.Warn++
		case words.Hint:
			r.Sum.Hint++
		}
		switch f.Code {
		case Position:
			r.Sum.Positions++
		case NoAlt, "alt-missing", "alt-missing-link":
			r.Sum.Undescribed++
		}
		if f.Cost.Private && !private[f.Picture] {
			private[f.Picture] = true
			r.Sum.Private++
		}
	}
	return r
}

// perPage is how many bytes of pictures come with a page on a usual screen at a desk, as a mean of all pages.
func (s *Survey) perPage() int64 {
	if len(s.Pages) == 0 {
		return 0
	}
	var all int64
	for _, p := range s.Pages {
		got := map[string]bool{}
		for _, u := range p.Uses {
			if f := s.taken(u); f != nil && !got[f.Path] {
				got[f.Path] = true
				all += f.Bytes
			}
		}
	}
	return all / int64(len(s.Pages))
}

// taken is the file that a browser at a desk takes of those that a page offers for a picture: the smallest
// that has enough pixels, or else the largest.
func (s *Survey) taken(u Use) *File {
	best := s.Files[u.File]
	if best == nil || best.Facts == nil {
		return best
	}
	need := u.Shown[len(Viewports)-1]
	for _, at := range u.others {
		f := s.Files[at]
		if f == nil || f.Facts == nil {
			continue
		}
		w, most := float64(f.Facts.Upright().W), float64(best.Facts.Upright().W)
		if w >= need && (w < most || most < need) || w > most && most < need {
			best = f
		}
	}
	return best
}

// String is the sum in one line.
func (s Sum) String() string {
	parts := []string{fmt.Sprintf("%s, could be %s", fit.Weight(s.Bytes), fit.Weight(s.CouldBe))}
	for _, one := range []struct {
		n    int
		what [2]string
	}{
		{s.Undescribed, [2]string{"picture without a description", "pictures without a description"}},
		{s.Positions, [2]string{"with a position inside", "with a position inside"}},
	} {
		if one.n == 1 {
			parts = append(parts, "1 "+one.what[0])
		} else if one.n > 1 {
			parts = append(parts, fmt.Sprintf("%d %s", one.n, one.what[1]))
		}
	}
	return strings.Join(parts, "; ")
}

// Bytes is what findings cost together.
func Bytes(all []Finding) (sum int64) {
	for _, f := range all {
		sum += f.Cost.Bytes
	}
	return sum
}

// ByKind gathers findings of one kind, in the order in which the first of each comes.
func ByKind(all []Finding) [][]Finding {
	at := map[Code]int{}
	var kinds [][]Finding
	for _, f := range all {
		i, known := at[f.Code]
		if !known {
			i = len(kinds)
			at[f.Code] = i
			kinds = append(kinds, nil)
		}
		kinds[i] = append(kinds[i], f)
	}
	return kinds
}
