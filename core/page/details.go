package page

import (
	"fmt"
	"html"
	"slices"
	"strings"
	"time"

	"mivlet/core/rules"
)

// Details are what is known of a page besides what stands on it: what lists and searches
// go by. Everything may be empty.
type Details struct {
	From       string   `json:"from,omitempty"`       // the day it is about, 2006-01-02
	Until      string   `json:"until,omitempty"`      // the last day, for what takes several
	Whom       string   `json:"whom,omitempty"`       // for whom it is, or with whom it was
	Tags       []string `json:"tags,omitempty"`       // lower case, in order
	Categories []string `json:"categories,omitempty"` // codes of the house
	Summary    string   `json:"summary,omitempty"`    // one sentence
	Address    string   `json:"address,omitempty"`    // on the web, that belongs to it
}

// Limits of details, in characters, and of their lists.
const (
	LongestSummary = 200
	LongestWhom    = 120
	LongestTag     = 40
	MostTags       = 20
)

// day is how days are written.
const day = time.DateOnly

// Tidied returns the details as they are kept: without stray spaces, each tag and category
// once, tags in lower case and in order.
func (d Details) Tidied() Details {
	for _, text := range []*string{&d.From, &d.Until, &d.Whom, &d.Summary, &d.Address} {
		*text = strings.Join(strings.Fields(*text), " ")
	}
	if d.Until == d.From {
		d.Until = ""
	}
	d.Tags = each(d.Tags, strings.ToLower)
	slices.Sort(d.Tags)
	d.Categories = each(d.Categories, func(s string) string { return s })
	return d
}

// each tidies words and leaves each of them once, in their order; nil for none.
func each(all []string, as func(string) string) (kept []string) {
	for _, one := range all {
		if one = as(strings.Join(strings.Fields(one), " ")); one != "" && !slices.Contains(kept, one) {
			kept = append(kept, one)
		}
	}
	return kept
}

// Check refuses details that no page can have. What of the house they name is for the
// findings of the page.
func (d Details) Check() error {
	from, err := parseDay(d.From)
	if err != nil {
		return err
	}
	until, err := parseDay(d.Until)
	switch {
	case err != nil:
		return err
	case d.Until != "" && d.From == "":
		return fmt.Errorf("the last day %s needs a first day before it", d.Until)
	case d.Until != "" && until.Before(from):
		return fmt.Errorf("the last day %s comes before the first, %s", d.Until, d.From)
	case len([]rune(d.Summary)) > LongestSummary:
		return fmt.Errorf("a summary has at most %d characters, not %d", LongestSummary, len([]rune(d.Summary)))
	case len([]rune(d.Whom)) > LongestWhom:
		return fmt.Errorf("for whom it is has at most %d characters, not %d", LongestWhom, len([]rune(d.Whom)))
	case len(d.Tags) > MostTags:
		return fmt.Errorf("a page has at most %d tags, not %d", MostTags, len(d.Tags))
	}
	for _, t := range d.Tags {
		if len([]rune(t)) > LongestTag {
			return fmt.Errorf("a tag has at most %d characters: %q has %d", LongestTag, t, len([]rune(t)))
		}
	}
	return nil
}

func parseDay(text string) (time.Time, error) {
	if text == "" {
		return time.Time{}, nil
	}
	at, err := time.Parse(day, text)
	if err != nil {
		return at, fmt.Errorf("%q is not a day: write it like 2026-05-09", text)
	}
	return at, nil
}

// In reports whether the page is of a category of the house.
func (d Details) In(r rules.Rules, code string) bool {
	return slices.Contains(d.CategoriesOf(r), code)
}

// CategoriesOf are the codes of the page's categories that the house has; one that was
// joined to another is that one.
func (d Details) CategoriesOf(r rules.Rules) []string {
	return each(d.Categories, func(code string) string { c, _ := r.Category(code); return c.Code })
}

// Days writes when it is for people: “9 May 2026”, or “9 to 11 May 2026”; "" where no day
// is known.
func (d Details) Days() string {
	from, err := parseDay(d.From)
	if err != nil || d.From == "" {
		return ""
	}
	until, err := parseDay(d.Until)
	if err != nil || d.Until == "" {
		return from.Format("2 January 2006")
	}
	first := "2 January 2006"
	switch {
	case from.Year() == until.Year() && from.Month() == until.Month():
		first = "2"
	case from.Year() == until.Year():
		first = "2 January"
	}
	return from.Format(first) + " to " + until.Format("2 January 2006")
}

// Fact is one line of the small list that a page shows of its details.
type Fact struct {
	Name string
	HTML string // escaped
}

// Facts are the details that are known, as a page shows them. The summary is none of
// them: it stands in lists.
func (d Details) Facts(r rules.Rules) []Fact {
	var all []Fact
	add := func(name, html string) {
		if html != "" {
			all = append(all, Fact{name, html})
		}
	}
	if days := d.Days(); days != "" {
		add("When", d.timeHTML())
	}
	add("For", html.EscapeString(d.Whom))
	var about []string
	for _, code := range d.CategoriesOf(r) {
		if c, ok := r.Category(code); ok {
			about = append(about, html.EscapeString(c.Title))
		}
	}
	add("About", strings.Join(about, ", "))
	add("Tags", html.EscapeString(strings.Join(d.Tags, ", ")))
	if d.Address != "" {
		add("On the web", fmt.Sprintf("<a href=\"%s\">%s</a>", html.EscapeString(d.Address), html.EscapeString(strings.TrimSuffix(strings.TrimPrefix(strings.TrimPrefix(d.Address, "https://"), "http://"), "/"))))
	}
	return all
}

// timeHTML is when it is, readable by machines, too (HTML Living Standard, "the time
// element"): a stretch of days has two.
func (d Details) timeHTML() string {
	if d.Until == "" {
		return fmt.Sprintf("<time datetime=\"%s\">%s</time>", html.EscapeString(d.From), d.Days())
	}
	first, last, _ := strings.Cut(d.Days(), " to ")
	return fmt.Sprintf("<time datetime=\"%s\">%s</time> to <time datetime=\"%s\">%s</time>", html.EscapeString(d.From), first, html.EscapeString(d.Until), last)
}

// facts writes the list of facts of the page.
func (h *writer) facts() {
	all := h.doc.Details.Facts(h.Rules)
	if len(all) == 0 {
		return
	}
	h.open("dl", "facts", "")
	for _, f := range all {
		h.line("<div><dt>%s</dt><dd>%s</dd></div>", f.Name, f.HTML)
	}
	h.close("dl")
}
