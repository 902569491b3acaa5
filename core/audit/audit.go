// Package audit finds what falls short in a picture before it goes live, what
// that costs, and which step mends it.
package audit

import (
	"fmt"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/words"
)

// Step is a stretch of the walk on the bench.
type Step string

// The steps, in the order they are walked.
const (
	Fit      Step = "fit"
	Frame    Step = "frame"
	Hide     Step = "hide"
	Name     Step = "name"
	Describe Step = "describe"
)

// Finding is one thing that falls short.
type Finding struct {
	Level words.Level
	Step  Step // where it is mended
	Text  string
	// Example shows how it could be; empty where the text tells it.
	Example string
}

// Work is a picture as it lies on the bench.
type Work struct {
	Facts   facts.Facts
	Recipe  recipe.Recipe
	Slot    *rules.Slot // nil until one is chosen
	Name    string
	Said    words.Said // its words, and those around it
	Section string
	Consent string // "", "none", "given" or "refused"
	Until   string // last day of the consent, 2006-01-02; empty for no end
	Today   string // 2006-01-02
	Credit  string
	House   rules.Rules
}

// Check returns the findings of a picture in the order of the walk.
func Check(w Work) []Finding {
	fs := append(CheckFit(w), checkName(w)...)
	said := w.Said
	said.Language, said.Longest, said.LongestCap = w.House.Words.Language, w.House.Words.LongestAlt, w.House.Words.LongestCaption
	for _, f := range words.Check(said) {
		fs = append(fs, Finding{f.Level, Describe, f.Text, f.Example})
	}
	if w.House.Words.CreditAsked && strings.TrimSpace(w.Credit) == "" {
		fs = append(fs, Finding{words.Warn, Describe, "Say who made it. (house rules)", ""})
	}
	return append(fs, checkConsent(w)...)
}

// checkConsent stops a picture of somebody who said no and is not hidden.
func checkConsent(w Work) []Finding {
	veiled := len(w.Recipe.View(w.Facts.Upright()).Veils) > 0
	switch {
	case w.Consent == "refused" && !veiled:
		return []Finding{{words.Stop, Hide, "Somebody who can be seen said no. Hide them with a veil, or take another picture. (house rules)", ""}}
	case w.Consent == "given" && w.Until != "" && w.Until < w.Today && !veiled:
		return []Finding{{words.Stop, Hide, "They agreed until " + w.Until + ", and that is over. Ask again, hide them with a veil, or take another picture. (house rules)", ""}}
	case w.Consent == "" && w.House.Words.ConsentAsked:
		return []Finding{{words.Warn, Describe, "Note who may be seen: nobody can be made out, they agreed, or they said no. (house rules)", ""}}
	}
	return nil
}

// CheckFit returns the findings about slot and frame alone.
func CheckFit(w Work) []Finding {
	if w.Slot == nil {
		return []Finding{{words.Stop, Fit, "Choose where it will stand: everything else follows from the slot.", ""}}
	}
	var fs []Finding
	cuts := w.Recipe.View(w.Facts.Upright()).Plan(w.Slot.Want(), w.Slot.Densities)
	best := cuts[len(cuts)-1]
	switch {
	case best.Effective < 1:
		fs = append(fs, Finding{words.Stop, Frame, fmt.Sprintf(
			"Soft on every screen: %d pixels for %d. Widen the frame, or choose a smaller slot.", best.Size.W, best.CSSWidth), ""})
	case best.Effective < 1.5 && w.Slot.Sharpest() >= 2:
		fs = append(fs, Finding{words.Warn, Frame, fmt.Sprintf(
			"A little soft on sharp screens: %.1f pixels where 2 would be crisp.", best.Effective), ""})
	}
	if w.Facts.Frames > 1 && !w.Facts.KeepsMotion() {
		fs = append(fs, Finding{words.Warn, Fit, fmt.Sprintf(
			"It moves (%d frames). The cut will stand still on the first one.", w.Facts.Frames), ""})
	}
	if w.Facts.Frames > 1 && w.Facts.KeepsMotion() && !w.Slot.TakesMotion() {
		fs = append(fs, Finding{words.Warn, Fit, "It moves, and would stand still here: this slot takes no moving pictures. Choose another, or the frame that stands for it.", ""})
	}
	return fs
}

func checkName(w Work) []Finding {
	var fs []Finding
	for _, p := range w.House.Naming.Check(w.Name, w.House.Clues(w.Section, w.Facts.Taken)) {
		fs = append(fs, Finding{words.Stop, Name, p.Text, ""})
	}
	return fs
}

// Stops returns the findings that keep a picture from going live.
func Stops(fs []Finding) []Finding {
	var stops []Finding
	for _, f := range fs {
		if f.Level == words.Stop {
			stops = append(stops, f)
		}
	}
	return stops
}

// At returns the findings of one step.
func At(fs []Finding, s Step) []Finding {
	var at []Finding
	for _, f := range fs {
		if f.Step == s {
			at = append(at, f)
		}
	}
	return at
}
