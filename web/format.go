package web

import (
	"encoding/json"
	"fmt"
	"html/template"
	"strings"
	"time"

	"mivlet/core/audit"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/naming"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/snapshot"
	"mivlet/sentences"
	"mivlet/web/drawing"
)

// functions are the words the templates have for figures.
var functions = template.FuncMap{
	"bytes":    fit.Weight,
	"format":   func(f string) string { return map[string]string{"avif": "AVIF", "webp": "WebP"}[f] },
	"caption":  func(source string) template.HTML { return template.HTML(page.CaptionHTML(source)) }, //nolint:gosec // sanitised by core/page
	"writing":  func(what, block string, nth int) string { return landing.Place{Block: block, Nth: nth}.Writing(what) },
	"seconds":  secondsText,
	"day":      dayText,
	"dated":    datedText,
	"density":  func(d float64) string { return strings.TrimSuffix(fmt.Sprintf("%.1f", d), ".0") },
	"onScreen": onScreen,
	"mega":     megapixels,
	"saving":   saving,
	"mark":     func(level words.Level) string { return "mark-" + string(level) },
	"says":     says,
	"fix":      sentences.Fix,
	"at":       func(fs []audit.Finding, step string) []audit.Finding { return audit.At(fs, audit.Stretch(step)) },
	"worst":    worst,
	"graded":   gradedText,
	"opening":  openingText,
	"join":     strings.Join,
	"dict":     dict,
	"pairs":    pairs,
	"count":    access.Count,
	"example":  example,
	"helpFor":  helpFor,
	"keysOf":   func(screen string) []keyLine { return keysOf[screen] },
	"add":      func(a, b int) int { return a + b },
	"mul":      func(n, a, b int) int { return n * a / b },
	"kilo":     func(n int64) int64 { return (n + 999) / 1000 },
	"columnDim": func(r rules.Rules) drawing.Dimension {
		left := float64(15 + (r.PageWidth()-r.TextWidth())/2)
		return drawing.Dimension{X1: left, X2: left + float64(r.TextWidth()), Label: fmt.Sprint(r.TextWidth())}
	},
	"half":      func(a, b float64) float64 { return (a + b) / 2 },
	"plus":      plus,
	"neg":       func(n any) float64 { return -plus(n) },
	"halved":    func(n any) float64 { return plus(n) / 2 },
	"times":     func(a, b any) float64 { return plus(a) * plus(b) },
	"nothing":   func() any { return nil },
	"measure":   measureText,
	"needs":     func(s pages.StandView) string { return needs(s.Offer()) },
	"takeAlong": takeAlong,
	"json":      jsonText,
	"list":      listText,
	"dateform":  func(form string) string { return time.Date(2026, 9, 12, 0, 0, 0, 0, time.UTC).Format(form) },
	"taken":     takenText,
	"lookkey":   derive.LookKey,
	"stagekey":  derive.StageKey,
	"kind": func(mediaType string) string {
		return strings.ToUpper(strings.TrimPrefix(facts.Extension(mediaType), "."))
	},
	"short": func(d float64) string { return strings.TrimSuffix(fmt.Sprintf("%.1f", d), ".0") },
}

func secondsText(d time.Duration) string {
	switch s := d.Seconds(); {
	case s < 0.095:
		return "under 0.1 s"
	case s < 10:
		return fmt.Sprintf("%.1f s", s)
	}
	return fmt.Sprintf("%.0f s", d.Seconds())
}

// saving tells how many times smaller after is than before.
func saving(before, after int64) string {
	if after <= 0 || before <= after {
		return ""
	}
	if times := float64(before) / float64(after); times >= 2 {
		return fmt.Sprintf("%.0f times lighter", times)
	}
	return fmt.Sprintf("%d %% lighter", 100-100*after/before)
}

// worst returns the heaviest level among findings, or "" for none.
// says says a finding, wherever it was found.
func says(finding any) (string, error) {
	switch f := finding.(type) {
	case audit.Finding:
		return sentences.Of(f), nil
	case audit.OnPage:
		return sentences.Of(f.Finding), nil
	case snapshot.PageFinding:
		return sentences.Of(f.Finding), nil
	case words.Remark:
		return sentences.Remark(f), nil
	case naming.Problem:
		return sentences.Problem(f), nil
	}
	return "", fmt.Errorf("%T is no finding", finding)
}

// example shows how what a finding is about could be; "" where what is said tells it.
func example(finding any) string {
	text := ""
	switch f := finding.(type) {
	case audit.Finding:
		text = sentences.ExampleOf(f)
	case audit.OnPage:
		text = sentences.ExampleOf(f.Finding)
	case snapshot.PageFinding:
		text = sentences.ExampleOf(f.Finding)
	case words.Remark:
		text = sentences.Example(f)
	}
	// A quoted example is led in, so that it does not read as part of the rule.
	if strings.HasPrefix(text, "“") {
		return "Such as " + text
	}
	return text
}

func worst(fs []audit.Finding) words.Level {
	var w words.Level
	weight := map[words.Level]int{"": 0, words.Hint: 1, words.Warn: 2, words.Stop: 3}
	for _, f := range fs {
		if weight[f.Level] > weight[w] {
			w = f.Level
		}
	}
	return w
}

// dict lets a template give several values to another.
func dict(pairs ...any) (map[string]any, error) {
	if len(pairs)%2 != 0 {
		return nil, fmt.Errorf("dict wants pairs, not %d values", len(pairs))
	}
	m := make(map[string]any, len(pairs)/2)
	for i := 0; i < len(pairs); i += 2 {
		key, ok := pairs[i].(string)
		if !ok {
			return nil, fmt.Errorf("%v is no key", pairs[i])
		}
		m[key] = pairs[i+1]
	}
	return m, nil
}

// pairs gives a template a list of two words each.
func pairs(all ...string) [][2]string {
	var list [][2]string
	for i := 0; i+1 < len(all); i += 2 {
		list = append(list, [2]string{all[i], all[i+1]})
	}
	return list
}

// datedText writes a day that is kept as 2006-01-02 as people write it.
func datedText(day string) string {
	if t, err := time.Parse(time.DateOnly, day); err == nil {
		return t.Format("2 Jan 2006")
	}
	return day
}

// dayText writes a moment; it takes one that may be missing, too.
func dayText(t any) string {
	switch t := t.(type) {
	case time.Time:
		return t.Format("2 Jan 2006, 15:04")
	case *time.Time:
		if t != nil {
			return t.Format("2 Jan 2006, 15:04")
		}
	}
	return "never"
}

func megapixels(s fit.Size) string {
	n := float64(s.W) * float64(s.H) / 1e6
	if n < 0.1 {
		return "under 0.1 MP"
	}
	return fmt.Sprintf("%.1f MP", n)
}

// measureText tells what rules a slot: “640 px”, “300 px high”, “150 × 150”.
func measureText(s rules.Slot) string {
	switch s.Kind() {
	case rules.ByHeight:
		return fmt.Sprintf("%d px high", s.Height)
	case rules.Box:
		return fmt.Sprintf("%d × %d", s.Width, s.Height)
	case rules.InBox:
		return fmt.Sprintf("in %d × %d", s.Width, s.Height)
	}
	return fmt.Sprintf("%d px", s.Width)
}

// jsonText writes a value for an attribute that htmx reads.
func jsonText(v any) (string, error) {
	data, err := json.Marshal(v)
	return string(data), err
}

// listText writes a list as it is typed: 1, 2.
func listText(v any) string {
	return strings.Join(strings.Fields(strings.Trim(fmt.Sprint(v), "[]")), ", ")
}

// takenText lists the types that the house takes.
func takenText(r rules.Rules) string { return words.Listed(r.Taken()) }

// plus adds numbers of a drawing, whole or not.
func plus(all ...any) float64 {
	sum := 0.0
	for _, n := range all {
		switch n := n.(type) {
		case int:
			sum += float64(n)
		case float64:
			sum += n
		}
	}
	return sum
}

// gradedText says how bad the worst finding of a step is, before its title.
func gradedText(level words.Level) string {
	switch level {
	case words.Stop:
		return "to fix:"
	case words.Warn:
		return "could be better:"
	case words.Hint:
		return "open:"
	}
	return "done:"
}

// openingText is how a text of a page begins, to tell it from the others: its first five words,
// without marks.
func openingText(text string) string {
	all := strings.Fields(page.CaptionText(text))
	if len(all) > 5 {
		return strings.Join(all[:5], " ") + "…"
	}
	return strings.Join(all, " ")
}

// onScreen tells which screens load a file.
func onScreen(d layout.Device, density float64) string {
	if d == layout.Phone {
		return "on a phone"
	}
	if density > 1 {
		return "on a sharp " + d.String()
	}
	return "on a " + d.String()
}
