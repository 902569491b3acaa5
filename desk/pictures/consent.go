package pictures

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"mivlet/core/consent"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/store"
)

// ConsentMark stands for an entry as it is: who changes one says which they saw.
func ConsentMark(e consent.Entry) string { return derive.Fingerprint(8, e) }

// SetConsent notes who is seen on a picture and whether they may be: a new entry where
// e has no ID, else the one with that ID, as long as mark is that of the entry now. A
// refusal is lifted only with a reason why, which is kept in the trail.
func (d *Desk) SetConsent(id uint, mark string, e consent.Entry, why string) error {
	e.Whom, e.Note = strings.TrimSpace(e.Whom), strings.TrimSpace(e.Note)
	if err := e.Check(); err != nil {
		return access.Because(access.Bad, access.Sentence(err), "Nothing was changed.", err)
	}
	if _, err := time.Parse("2006-01-02", e.Until); e.Until != "" && err != nil {
		return access.Refuse(access.Bad, "That is not a day.", "Enter the last day of the permission, such as 2027-08-31.")
	}
	e.By, e.On = d.Person.Name, d.Today()
	return d.consents(id, func(p *store.Picture) (string, error) {
		e.Veils = slices.DeleteFunc(slices.Clone(e.Veils), func(v string) bool { _, there := p.Work.Recipe.Veil(v); return !there })
		if e.ID == "" {
			e.ID = access.NewBlock()
			p.Consents = append(slices.Clone(p.Consents), e)
			return "Noted who is seen: " + consentInWords(e), nil
		}
		i, err := ConsentAt(*p, e.ID, mark)
		if err != nil {
			return "", err
		}
		text := "Noted who is seen: " + consentInWords(e)
		if p.Consents[i].State == consent.Refused && e.State != consent.Refused {
			if why, err = lifting(why); err != nil {
				return "", err
			}
			text = fmt.Sprintf("Lifted the refusal of %s, because: %s", p.Consents[i].Whom, why)
		}
		p.Consents = slices.Clone(p.Consents)
		p.Consents[i] = e
		return text, nil
	})
}

// DropConsent takes an entry about who is seen off a picture. One that is a refusal is
// taken off only with a reason why.
func (d *Desk) DropConsent(id uint, entry, mark, why string) error {
	return d.consents(id, func(p *store.Picture) (string, error) {
		i, err := ConsentAt(*p, entry, mark)
		if err != nil {
			return "", err
		}
		e := p.Consents[i]
		text := "No longer noted: " + consentInWords(e)
		if e.State == consent.Refused {
			if why, err = lifting(why); err != nil {
				return "", err
			}
			text = fmt.Sprintf("Lifted the refusal of %s, because: %s", e.Whom, why)
		}
		p.Consents = slices.Delete(slices.Clone(p.Consents), i, i+1)
		return text, nil
	})
}

// consents changes who is noted to be seen on a picture. It is no step of the picture's
// history: going back to an earlier state of the work does not change what people said.
func (d *Desk) consents(id uint, act func(*store.Picture) (string, error)) error {
	return d.Stirring(id, func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		text, err := act(&p)
		if err != nil {
			return err
		}
		p.UpdatedAt = d.Now()
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.TracePicture(s, p, "%s: %s", access.NameOr(p), text)
	})
}

// ConsentAt is where an entry stands, as long as it is as somebody saw it.
func ConsentAt(p store.Picture, entry, mark string) (int, error) {
	i := slices.IndexFunc(p.Consents, func(e consent.Entry) bool { return e.ID == entry })
	switch {
	case i < 0:
		return 0, access.Refuse(access.Missing, "Somebody has taken that entry off in the meantime.", "Look at the list again.")
	case ConsentMark(p.Consents[i]) != mark:
		return 0, access.Refuse(access.Clash, "Somebody else has changed this entry in the meantime: "+consentInWords(p.Consents[i])+".", "Look at it as it is now, then change it.")
	}
	return i, nil
}

// lifting asks for the reason why somebody who said no may be shown all the same.
func lifting(why string) (string, error) {
	why = strings.Join(strings.Fields(why), " ")
	if len([]rune(why)) < access.LeastReason {
		return "", access.Refuse(access.Bad, "This person refused permission. Only a reason can change that.", fmt.Sprintf("Write at least %d characters, such as “their mother agreed by letter on 3 March”.", access.LeastReason))
	}
	return why, nil
}

// consentInWords says an entry in a few words.
func consentInWords(e consent.Entry) string {
	switch e.State {
	case consent.Nobody:
		return "nobody can be recognised"
	case consent.Refused:
		return e.Whom + " refused"
	case consent.Unasked:
		return e.Whom + " has not been asked"
	}
	if e.Until != "" {
		return e.Whom + " agreed, until " + e.Until
	}
	return e.Whom + " agreed"
}
