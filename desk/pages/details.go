package pages

import (
	"fmt"
	"slices"
	"strings"

	"mivlet/core/page"
	"mivlet/desk/access"
)

// SetDetails writes what is known of a page besides what stands on it, as one step. seen is
// the mark of the details as whoever asks saw them; see [DetailsMark].
func (d *Desk) SetDetails(id uint, seen string, to page.Details) error {
	if err := d.MayWorkOn(id); err != nil {
		return err
	}
	to = to.Tidied()
	if err := to.Check(); err != nil {
		return access.Because(access.Bad, access.Sentence(err), "Nothing was changed. What you typed is still in the fields.", err)
	}
	if to.Address != "" {
		if wrong := d.snapshot.Followable(to.Address); wrong != "" {
			return access.Refuse(access.Bad, wrong, "Write it like https://club.example, or leave it blank.")
		}
	}
	for _, code := range to.Categories {
		if _, ok := d.Rules().Category(code); !ok {
			return access.Refuse(access.Bad, fmt.Sprintf("The house has no category %q.", code), "Choose from the list.")
		}
	}
	return d.Edit(id, Newest, "Changed the details", func(doc page.Doc) (page.Doc, error) {
		if seen != DetailsMark(doc) {
			return doc, access.Refuse(access.Clash, "Somebody else has changed the details in the meantime.", "Look at them as they are now; what you typed was not kept.")
		}
		doc.Details = to
		return doc, nil
	})
}

// DetailsMark stands for the details and the cover of a page as they are.
func DetailsMark(doc page.Doc) string {
	return page.Block{ID: "details", Text: fmt.Sprintf("%#v %s", doc.Details, coverText(doc.Cover)+"|"+coverText(doc.Shared)+cardText(doc.Card))}.Mark()
}

func cardText(c *page.TitleCard) string {
	if c == nil {
		return ""
	}
	return fmt.Sprintf("|card %q %s", c.Ground, coverText(c.Behind))
}

func coverText(c *page.Cover) string {
	if c == nil {
		return ""
	}
	text := fmt.Sprint(c.Picture)
	if c.Frame != nil {
		text += fmt.Sprint(*c.Frame)
	}
	if c.Focus != nil {
		text += fmt.Sprint(*c.Focus)
	}
	return text
}

// Tags returns the tags of all drafts, in order.
func (d *Desk) Tags() ([]string, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	themes, err := d.Store.Themes()
	var all []string
	for key := range themes {
		if tag, ok := strings.CutPrefix(key, page.Key(page.OfTag, "")); ok {
			all = append(all, tag)
		}
	}
	slices.Sort(all)
	return all, err
}

// SetList changes what a list on a page shows, as one step. mark is that of its block as
// whoever asks saw it.
func (d *Desk) SetList(id uint, block, mark string, to page.Listing) error {
	if err := d.MayWorkOn(id); err != nil {
		return err
	}
	to.Which = strings.Join(strings.Fields(to.Which), " ")
	return d.Edit(id, Newest, "Changed a list", func(doc page.Doc) (page.Doc, error) {
		b, ok := doc.Block(block)
		switch {
		case !ok || b.Kind != page.List:
			return doc, access.Refuse(access.Missing, "The list is not on the page any more.", "Look again.")
		case b.Mark() != mark:
			return doc, access.Refuse(access.Clash, "Somebody else has changed this list in the meantime.", "Look at it as it is now; what you chose was not kept.")
		}
		b.List = &to
		doc, err := doc.Replace(b)
		if err == nil {
			err = Valid(doc)
		}
		return doc, err
	})
}

// Valid refuses a page that could not be read again.
func Valid(doc page.Doc) error {
	if err := doc.Check(); err != nil {
		return access.Because(access.Bad, access.Sentence(err), "Nothing was changed.", err)
	}
	return nil
}
