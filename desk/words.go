package desk

import (
	"cmp"
	"fmt"
	"strings"
	"time"

	"mivlet/core/words"
	"mivlet/store"
)

// Words are all that is said with a picture.
type Words struct {
	Alt          string
	Decorative   bool
	Reason       string
	Caption      string
	LongAlt      string
	Credit       string
	Consent      string
	ConsentUntil string // 2006-01-02; empty for no end
	ConsentNote  string
	Hidden       string // names that veils hide, parted by commas
}

// WordsOf returns the words of a picture.
func WordsOf(p store.Picture) Words {
	w := p.Work
	return Words{w.Alt, w.Decorative, w.Reason, w.Caption, w.LongAlt, w.Credit, w.Consent, w.ConsentUntil, w.ConsentNote, w.Hidden}
}

// SetWords writes what is said with a picture, as one step of its history.
func (d *Desk) SetWords(id uint, w Words) error {
	if _, err := d.mine(d.store, id); err != nil {
		return err
	}
	switch w.Consent {
	case store.ConsentUnknown, store.ConsentNone, store.ConsentGiven, store.ConsentRefused:
	default:
		return refuse(Bad, fmt.Sprintf("“%s” is no note about who may be seen.", w.Consent), "Choose one of those offered.")
	}
	if _, err := time.Parse("2006-01-02", w.ConsentUntil); w.ConsentUntil != "" && err != nil {
		return refuse(Bad, "Until when they may be seen is a day, such as 2027-08-31.", "Nothing was changed.")
	}
	return d.change(id, func(p *store.Picture) (string, error) {
		before := WordsOf(*p)
		k := &p.Work
		k.Alt, k.Decorative, k.Reason, k.Caption, k.LongAlt, k.Credit = strings.TrimSpace(w.Alt), w.Decorative, strings.TrimSpace(w.Reason), strings.TrimSpace(w.Caption), strings.TrimSpace(w.LongAlt), strings.TrimSpace(w.Credit)
		k.Consent, k.ConsentUntil, k.ConsentNote, k.Hidden = w.Consent, w.ConsentUntil, strings.TrimSpace(w.ConsentNote), strings.TrimSpace(w.Hidden)
		return wordsStep(before, WordsOf(*p)), nil
	})
}

// wordsStep says in plain words what was changed.
func wordsStep(from, to Words) string {
	switch {
	case from.Decorative != to.Decorative && to.Decorative:
		return "Decorative: it says nothing"
	case from.Alt != to.Alt && to.Alt == "":
		return "Description taken off"
	case from.Alt != to.Alt:
		return "Described: “" + to.Alt + "”"
	case from.Caption != to.Caption:
		return "Caption: “" + to.Caption + "”"
	case from.Consent != to.Consent || from.ConsentUntil != to.ConsentUntil:
		return "Who may be seen: " + cmp.Or(to.Consent, "not noted")
	case from.Credit != to.Credit:
		return "Credit: " + to.Credit
	}
	return "Words changed"
}

// CheckWords tells, while somebody types, what falls short in words that are not
// kept yet.
func (d *Desk) CheckWords(id uint, w Words) ([]words.Finding, error) {
	if _, err := d.mine(d.store, id); err != nil {
		return nil, err
	}
	house := d.Rules().Words
	return words.Check(words.Said{Alt: w.Alt, Caption: w.Caption, Decorative: w.Decorative, Reason: w.Reason, Hidden: strings.Split(w.Hidden, ","),
		Language: house.Language, Longest: house.LongestAlt, LongestCap: house.LongestCaption}), nil
}
