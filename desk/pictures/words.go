package pictures

import (
	"errors"
	"fmt"
	"strings"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/store"
)

// Words are all that is said with a picture.
type Words struct {
	Alt        string
	Decorative bool
	Reason     string
	Caption    string
	LongAlt    string
	Credit     string
	Hidden     string // names that veils hide, parted by commas
}

// WordsOf returns the words of a picture.
func WordsOf(p store.Picture) Words { return wordsOf(p.Work) }

func wordsOf(w store.Work) Words {
	return Words{w.Alt, w.Decorative, w.Reason, w.Caption, w.LongAlt, w.Credit, w.Hidden}
}

// into writes the words into a work.
func (w Words) into(k *store.Work) {
	k.Alt, k.Decorative, k.Reason, k.Caption, k.LongAlt, k.Credit, k.Hidden = w.Alt, w.Decorative, w.Reason, w.Caption, w.LongAlt, w.Credit, w.Hidden
}

// wordField is one of the words, as a form has it.
type wordField struct {
	name string // of the form's field
	get  func(Words) string
	set  func(*Words, string)
}

func textField(name string, of func(*Words) *string) wordField {
	return wordField{name, func(w Words) string { return *of(&w) }, func(w *Words, s string) { *of(w) = s }}
}

// wordFields are all words, in the order of the form.
var wordFields = []wordField{
	textField("alt", func(w *Words) *string { return &w.Alt }),
	{"decorative", func(w Words) string {
		if w.Decorative {
			return "yes"
		}
		return ""
	}, func(w *Words, s string) { w.Decorative = s != "" }},
	textField("reason", func(w *Words) *string { return &w.Reason }),
	textField("caption", func(w *Words) *string { return &w.Caption }),
	textField("credit", func(w *Words) *string { return &w.Credit }),
	textField("long", func(w *Words) *string { return &w.LongAlt }),
	textField("hidden", func(w *Words) *string { return &w.Hidden }),
}

// WordsClash is the refusal of words that were written over others that somebody else
// had changed meanwhile. What does not clash is kept; of the rest both are shown, to
// choose from.
type WordsClash struct{ Fields []FieldClash }

// FieldClash is one field that two people wrote differently.
type FieldClash struct {
	Field  string // as the form calls it: alt, decorative, reason, caption, credit, long or hidden
	Mine   string
	Theirs string
}

// Title is what the form calls the field.
func (f FieldClash) Title() string {
	return map[string]string{"alt": "the description", "decorative": "the tick", "reason": "why it is decorative", "caption": "the usual caption",
		"credit": "the credit", "long": "the long description", "hidden": "the names that veils hide"}[f.Field]
}

// Error tells it in a sentence.
func (c *WordsClash) Error() string {
	return "Someone else has changed the same words in the meantime. Both are shown, to choose from."
}

// Newest stands for the step that is shown now, whatever somebody saw.
const Newest = -1

// SetWords writes what is said with a picture, as one step of its history. seen is the
// step that the form showed, or [Newest]: fields that its writer left as they were stay
// as somebody else may have written them since. Where both wrote in the same field, it
// fails with a [*WordsClash] after it has kept the others.
func (d *Desk) SetWords(id uint, seen int, w Words) error {
	for _, f := range wordFields {
		text, err := cleanText(f.get(w), f.name)
		if err != nil {
			return err
		}
		f.set(&w, text)
	}
	var clash *WordsClash
	err := d.ChangeIn(id, func(s store.Records, p *store.Picture) (string, error) {
		base, err := wordsAt(s, *p, seen)
		if err != nil {
			return "", err
		}
		before := WordsOf(*p)
		var merged Words
		merged, clash = mergeWords(base, w, before)
		merged.into(&p.Work)
		return wordsStep(before, merged), nil
	})
	if err == nil && clash != nil {
		return clash
	}
	return err
}

// wordsAt are the words of a picture as a step had them.
func wordsAt(s store.Records, p store.Picture, seen int) (Words, error) {
	if seen == Newest || seen == p.Step {
		return WordsOf(p), nil
	}
	step, err := s.Step(p.ID, seen)
	if errors.Is(err, store.ErrNotFound) {
		return Words{}, access.Refuse(access.Clash, "Another file has taken the place of this picture since you opened the form.", "What you typed is still in the fields. Look at the picture, then save it again.")
	}
	return wordsOf(step.Work), err
}

// mergeWords joins what one person made of base with what is there now. clash lists
// the fields that both have changed, each in another way; theirs stays in those.
func mergeWords(base, mine, theirs Words) (merged Words, clash *WordsClash) {
	merged = theirs
	for _, f := range wordFields {
		was, my, their := f.get(base), f.get(mine), f.get(theirs)
		switch {
		case my == was || my == their:
		case their == was:
			f.set(&merged, my)
		default:
			if clash == nil {
				clash = &WordsClash{}
			}
			clash.Fields = append(clash.Fields, FieldClash{f.name, my, their})
		}
	}
	return merged, clash
}

// wordsStep says in plain words what was changed.
func wordsStep(from, to Words) string {
	switch {
	case from.Decorative != to.Decorative && to.Decorative:
		return "Decorative: it says nothing"
	case from.Alt != to.Alt && to.Alt == "":
		return "Description removed"
	case from.Alt != to.Alt:
		return "Described: “" + to.Alt + "”"
	case from.Caption != to.Caption:
		return "Caption: “" + to.Caption + "”"
	case from.Credit != to.Credit:
		return "Credit: " + to.Credit
	}
	return "Words changed"
}

// CheckWords tells, while somebody types, what falls short in words that are not
// kept yet.
func (d *Desk) CheckWords(id uint, w Words) ([]words.Remark, error) {
	if _, err := d.Mine(d.Store, id); err != nil {
		return nil, err
	}
	house := d.Rules().Words
	return words.Check(words.Said{Alt: w.Alt, Caption: w.Caption, Decorative: w.Decorative, Reason: w.Reason, Hidden: strings.Split(w.Hidden, ","),
		Language: house.Language, Longest: house.LongestAlt, LongestCap: house.LongestCaption}), nil
}

// mostWords is the most characters of one field of words.
const mostWords = 5000

// cleanText takes what cannot be seen out of a text that somebody typed, and refuses
// one that is far too long.
func cleanText(text, what string) (string, error) {
	text = words.Visible(text)
	if n := len([]rune(text)); n > mostWords {
		return "", access.Refuse(access.TooMuch, fmt.Sprintf("That is %d characters for %s, and at most %d are allowed.", n, what, mostWords), "Make it shorter. Your text is still in the field.")
	}
	return text, nil
}
