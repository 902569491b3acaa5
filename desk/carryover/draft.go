package carryover

import (
	"errors"
	"fmt"
	"math"
	"path"
	"strings"

	"mivlet/core/carry"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/store"
)

// gapOf is where a picture comes to stand: behind what stands before it in its column.
func gapOf(blocks []carry.Block, became []string, i int) page.Gap {
	for k := i - 1; k >= 0; k-- {
		switch {
		case became[k] == "":
		case blocks[k].Kind == carry.Band:
			return page.Gap{After: became[k], Column: blocks[i].Column}
		case blocks[k].Column == blocks[i].Column:
			return page.Behind(became[k])
		}
	}
	return page.Gap{}
}

// draft begins a page, and notes what it is a page of. Where its address is taken, its title gets a number. One that
// was begun before the program ended is begun anew.
func (d *Desk) draft(c *carrying, title string) (uint, error) {
	if id := c.asPages[c.from.Path]; id != 0 {
		if was, err := d.Store.Page(id); err == nil && was.DroppedAt == nil {
			return id, d.pages.Edit(id, pages.Newest, "Begun anew", func(doc page.Doc) (page.Doc, error) {
				doc.Blocks = nil
				return doc, nil
			})
		}
	}
	if title == "" {
		title = strings.TrimSuffix(path.Base(c.from.Path), path.Ext(c.from.Path))
	}
	for n := 1; ; n++ {
		called := title
		if n > 1 {
			called = fmt.Sprintf("%s, %d", title, n)
		}
		id, err := d.pages.NewPage(c.section, called, "empty")
		var r *access.Refusal
		switch {
		case errors.As(err, &r) && r.Kind == access.Clash && n <= 50:
			continue
		case err != nil:
			return id, err
		}
		return id, d.Store.Tx(func(s store.Records) error {
			return errors.Join(s.ChooseForFormer(&store.FormerChoice{FormerSiteID: c.ID, Kind: store.FormerCarried, Page: c.from.Path, Text: fmt.Sprint(id), Person: d.Person.Name, At: d.Now()}),
				d.Trace(s, c.section, "Carried %s of %s over", c.from.Path, c.Title))
		})
	}
}

// write writes all that are no pictures, in one step. It returns the blocks that they became; those of pictures are
// empty.
func (d *Desk) write(id uint, blocks []carry.Block) ([]string, error) {
	became := make([]string, len(blocks))
	var all []page.Block
	for i := range blocks {
		b := &blocks[i]
		one := page.Block{ID: access.NewBlock(), Text: b.Text}
		switch b.Kind {
		case carry.Heading:
			one.Kind, one.Level = page.Heading, b.Level
		case carry.Words:
			one.Kind = page.Text
		case carry.Line:
			one.Kind = page.Divider
		case carry.HTML:
			one.Kind = page.HTML
		case carry.Band:
			pattern := patternOf(d.Rules().Page.Patterns, b.Shares)
			if pattern == "" { // the house has no such columns: what stands in them comes one after the other
				for k := i + 1; k < len(blocks) && blocks[k].Kind != carry.Band; k++ {
					blocks[k].Column = 0
				}
				pattern = patternOf(d.Rules().Page.Patterns, []float64{100})
			}
			if pattern == "" {
				continue
			}
			one.Kind, one.Band = page.Band, &page.BandLayout{Pattern: pattern}
		default:
			continue
		}
		one.Column = b.Column
		became[i] = one.ID
		all = append(all, one)
	}
	if len(all) == 0 {
		return became, nil
	}
	return became, d.pages.Edit(id, pages.Newest, "Words of the page as it was", func(doc page.Doc) (page.Doc, error) {
		for _, b := range all {
			var err error
			if doc, err = doc.Insert(len(doc.Blocks), b); err != nil {
				return doc, err
			}
		}
		return doc, nil
	})
}

// patternOf is the pattern of the house whose columns are nearest to these; "" where none has so many.
func patternOf(all []rules.Pattern, shares []float64) (id string) {
	nearest := math.Inf(1)
	for _, p := range all {
		if len(p.Shares) != len(shares) {
			continue
		}
		sum, off := 0.0, 0.0
		for _, s := range p.Shares {
			sum += s
		}
		for i, s := range p.Shares {
			off += math.Abs(100*s/sum - shares[i])
		}
		if off < nearest {
			id, nearest = p.ID, off
		}
	}
	return id
}
