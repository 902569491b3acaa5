package landing

import (
	"errors"
	"strings"

	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
)

// The most that is written in one line, in letters.
const (
	mostTitle   = 120
	mostCaption = 2000
)

// Retitle gives a page another title; its address stays. was is the title as whoever writes saw it:
// where somebody has changed it since, it fails with a [*pages.TextClash].
func (d *Desk) Retitle(pageID uint, was, title string) error {
	if err := d.pages.MayWorkOn(pageID); err != nil {
		return err
	}
	title = words.VisibleLine(title, mostTitle)
	if title == "" {
		return access.Refuse(access.Bad, "A page needs a title.", "Write a few words, such as “Autumn on the water”.")
	}
	return d.pages.Edit(pageID, pages.Newest, "Called "+title, func(doc page.Doc) (page.Doc, error) {
		if doc.Title != was && doc.Title != title {
			return doc, &pages.TextClash{Block: "title", Mine: title, Theirs: doc.Title, Mark: doc.Title}
		}
		doc.Title = title
		return doc, nil
	})
}

// Caption writes the caption of the picture at a place, as CommonMark of one line (see
// [page.CaptionHTML]). was is the caption as whoever writes saw it: where somebody has changed it
// since, it fails with a [*pages.TextClash].
func (d *Desk) Caption(pageID uint, at Place, was, caption string) error {
	if err := d.pages.MayWorkOn(pageID); err != nil {
		return err
	}
	if caption = words.VisibleLine(caption, mostCaption+1); len([]rune(caption)) > mostCaption {
		return access.Refuse(access.Bad, "That caption is too long.", "Write it as a text below the picture. It is still in the field.")
	}
	text := "Removed a caption"
	if caption != "" {
		text = "Caption: “" + page.CaptionText(caption) + "”"
	}
	return d.pages.Edit(pageID, pages.Newest, text, func(doc page.Doc) (page.Doc, error) {
		p, err := placementAt(doc, at)
		if err != nil {
			return doc, err
		}
		if p.Caption != was && p.Caption != caption {
			return doc, &pages.TextClash{Block: at.Writing("caption"), Mine: caption, Theirs: p.Caption, Mark: p.Caption}
		}
		p.Caption = caption
		return doc.WithPlacement(at.Block, at.Nth, p)
	})
}

// Describe writes the description that the picture at a place has there: the one of this page where
// it has one of its own, else the usual one, which it has wherever it stands. was is the
// description as whoever writes saw it: where somebody has changed it since, it fails with a
// [*pages.TextClash].
func (d *Desk) Describe(pageID uint, at Place, was, alt string) error {
	p, err := d.pages.OwnPage(pageID)
	if err != nil {
		return err
	}
	alt = strings.TrimSpace(alt)
	clash := func(theirs string) error {
		if theirs == was || theirs == alt {
			return nil
		}
		return &pages.TextClash{Block: at.Writing("alt"), Mine: alt, Theirs: theirs, Mark: theirs}
	}
	stands, err := placementAt(p.Doc, at)
	if err != nil {
		return err
	}
	if stands.Alt == "" {
		pic, err := d.pages.InTray(stands.Picture)
		if err != nil {
			return err
		}
		if err := clash(pic.Work.Alt); err != nil {
			return err
		}
		w := pictures.WordsOf(pic.Picture)
		w.Alt, w.Decorative = alt, w.Decorative && alt == ""
		err = d.pictures.SetWords(stands.Picture, pic.Step, w)
		if meanwhile := (*pictures.WordsClash)(nil); errors.As(err, &meanwhile) { // since it was looked at above
			return access.Refuse(access.Clash, "Somebody else has described this picture in this moment.", "Look at their words, and write yours again.")
		}
		return err
	}
	return d.pages.Edit(pageID, pages.Newest, "Described a picture for this page", func(doc page.Doc) (page.Doc, error) {
		here, err := placementAt(doc, at)
		if err != nil {
			return doc, err
		}
		if err := clash(here.Alt); err != nil {
			return doc, err
		}
		here.Alt = alt
		return doc.WithPlacement(at.Block, at.Nth, here)
	})
}

// placementAt is how the picture at a place stands.
func placementAt(doc page.Doc, at Place) (page.Placement, error) {
	b, ok := doc.Block(at.Block)
	if !ok || at.Nth < 0 || at.Nth >= len(b.Holds()) || b.Kind == page.Album || b.Holds()[at.Nth].Waits() {
		return page.Placement{}, access.Refuse(access.Missing, "Somebody has taken this picture off in the meantime.", "It is still on the bench.")
	}
	return b.Holds()[at.Nth], nil
}
