package audit

import (
	"fmt"
	"net/url"
	"regexp"
	"strconv"
	"strings"

	"github.com/PuerkitoBio/goquery"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// Mending is a kind of thing that can be done at once about a finding.
type Mending string

// The mendings.
const (
	DropPlace    Mending = "drop-place"    // a place that waits
	DropBlock    Mending = "drop-block"    // words
	ClearCaption Mending = "clear-caption" // one that was never written
	SetWidth     Mending = "set-width"     // to a value in CSS px
	SetSlot      Mending = "set-slot"      // to the slot of a value
	SetLevel     Mending = "set-level"     // of a heading
	DropLink     Mending = "drop-link"     // to an address
	Relink       Mending = "relink"        // from an address to another
	SetShade     Mending = "set-shade"     // over a background, to a value in percent
)

// Mend is what would mend a finding at once.
type Mend struct {
	Do    Mending
	Value string
}

// Offered reports whether there is such a thing.
func (m Mend) Offered() bool { return m.Do != "" }

// Apply does to a page what mends the finding.
func (f OnPage) Apply(d page.Doc) (page.Doc, error) {
	b, ok := d.Block(f.Block)
	if !ok {
		return d, fmt.Errorf("the page has no block %s", f.Block)
	}
	switch f.Mend.Do {
	case DropBlock:
		return d.Remove(b.ID)
	case DropPlace:
		return d.RemovePicture(b.ID, f.Nth)
	case SetLevel:
		l, err := strconv.Atoi(f.Mend.Value)
		if err != nil {
			return d, err
		}
		b.Level = l
		return d.Replace(b)
	case SetShade:
		percent, err := strconv.Atoi(f.Mend.Value)
		if err != nil || b.Band == nil || b.Band.Background == nil {
			return d, fmt.Errorf("band %s cannot have a shade of %q: %w", b.ID, f.Mend.Value, err)
		}
		band, back := *b.Band, *b.Band.Background
		back.Shade = percent
		band.Background, b.Band = &back, &band
		return d.Replace(b)
	case DropLink, Relink:
		from, to, _ := strings.Cut(f.Mend.Value, " ")
		return d.Replace(relinked(b, from, to))
	}
	at := b.Holds()
	if f.Nth >= len(at) {
		return d, fmt.Errorf("block %s holds no picture %d", b.ID, f.Nth+1)
	}
	p := at[f.Nth]
	switch f.Mend.Do {
	case ClearCaption:
		p.Caption = ""
	case SetSlot:
		p.Slot, p.Rule = f.Mend.Value, nil
	case SetWidth:
		px, err := strconv.Atoi(f.Mend.Value)
		if err != nil {
			return d, err
		}
		p.Rule = &layout.Rule{Fixed: px}
	default:
		return d, fmt.Errorf("there is no way %q to mend it", f.Mend.Do)
	}
	return d.WithPlacement(b.ID, f.Nth, p)
}

// relinked leads what led to an address to another one, or, where that is empty,
// nowhere any more; its words stay.
func relinked(b page.Block, from, to string) page.Block {
	for n, p := range b.Holds() {
		if p.Link.Address != from {
			continue
		}
		if p.Link.Address = to; to == "" {
			p.Link = page.Link{Kind: rules.NoLink}
		}
		b, _ = b.WithPlacement(n, p)
	}
	for n, p := range b.Holds() {
		if p.Caption = relinkedWords(p.Caption, from, to); p.Caption != b.Holds()[n].Caption {
			b, _ = b.WithPlacement(n, p)
		}
	}
	if b.Kind == page.HTML {
		b.Text = relinkedHTML(b.Text, from, to)
		return b
	}
	b.Text = relinkedWords(b.Text, from, to)
	return b
}

// relinkedWords is relinked for CommonMark.
func relinkedWords(text, from, to string) string {
	quoted := regexp.QuoteMeta(from)
	words := regexp.MustCompile(`\[([^\]]*)\]\(<?` + quoted + `>?(?:\s+"[^"]*")?\)`)
	bare := regexp.MustCompile(`<` + quoted + `>`)
	if to == "" {
		return bare.ReplaceAllString(words.ReplaceAllString(text, "$1"), strings.ReplaceAll(from, "$", "$$"))
	}
	to = strings.ReplaceAll(to, "$", "$$")
	return bare.ReplaceAllString(words.ReplaceAllString(text, "[$1]("+to+")"), "<"+to+">")
}

func relinkedHTML(text, from, to string) string {
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(text))
	if err != nil {
		return text
	}
	doc.Find("a[href]").Each(func(_ int, a *goquery.Selection) {
		switch {
		case a.AttrOr("href", "") != from:
		case to == "":
			if inner, err := a.Html(); err == nil {
				a.ReplaceWithHtml(inner)
			}
		default:
			a.SetAttr("href", to)
		}
	})
	if inner, err := doc.Find("body").Html(); err == nil {
		return inner
	}
	return text
}

// AddressKind is where an address leads.
type AddressKind int

// The kinds of addresses.
const (
	NoAddress AddressKind = iota
	OnSite                // a page or file of the own site
	Elsewhere             // another site, a mailbox, a telephone
	Here                  // a place of the same page
)

// Address tells where an address leads (RFC 3986), and, on the own site, to which
// path. site is the site's own address.
func Address(address, site string) (AddressKind, string) {
	u, err := url.Parse(strings.TrimSpace(address))
	switch {
	case err != nil || address == "":
		return NoAddress, address
	case strings.HasPrefix(address, "#"):
		return Here, address
	case u.Scheme == "" && u.Host == "" && strings.HasPrefix(u.Path, "/"):
		return OnSite, u.Path
	case u.Scheme == "mailto" || u.Scheme == "tel":
		if u.Opaque == "" {
			return NoAddress, address
		}
		return Elsewhere, address
	case (u.Scheme == "http" || u.Scheme == "https") && u.Hostname() != "" && strings.Trim(u.Hostname(), ".-") != "":
		if own, err := url.Parse(site); err == nil && own.Host != "" && own.Host == u.Host {
			return OnSite, max(u.Path, "/")
		}
		return Elsewhere, address
	}
	return NoAddress, address
}
