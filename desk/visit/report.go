package visit

import (
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"mivlet/store"
)

// Report is what was checked on the live page after publishing, as a visitor
// would see it.
type Report struct {
	At     time.Time `json:"at"`
	URL    string    `json:"url"`
	Checks []Check   `json:"checks"`
}

// Check is one thing that was looked at.
type Check struct {
	OK   bool   `json:"ok"`
	Text string `json:"text"`
}

// OK reports whether everything was as it should be.
func (r Report) OK() bool {
	for _, c := range r.Checks {
		if !c.OK {
			return false
		}
	}
	return len(r.Checks) > 0
}

// Wrong is what was not as it should be.
func (r Report) Wrong() []Check {
	return slices.DeleteFunc(slices.Clone(r.Checks), func(c Check) bool { return c.OK })
}

// Check notes one thing that was looked at, and whether it was as it should be.
func (r *Report) Check(ok bool, format string, args ...any) {
	r.Checks = append(r.Checks, Check{ok, fmt.Sprintf(format, args...)})
}

// ReadReport reads the report that is kept with a page; nil where there is none.
func ReadReport(p store.Page) (*Report, error) {
	if p.Report == "" {
		return nil, nil
	}
	var r Report
	err := json.Unmarshal([]byte(p.Report), &r)
	return &r, err
}
