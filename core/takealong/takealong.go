// Package takealong prepares a page for a system in which nothing can be installed: somebody brings
// its pictures in there one by one, and pastes the rest. Where the page shows a picture stands a
// placeholder, until the other system has said under which address it keeps that picture.
package takealong

import (
	"fmt"
	"strconv"
	"strings"

	"github.com/PuerkitoBio/goquery"
)

// Item is a file that is brought in by hand.
type Item struct {
	Number      int    // from 1, in the order of the page
	Address     string // that the page had for it
	Placeholder string // that stands in its place
	Picture     bool   // false for a file to download
	Alt         string // empty for a picture that is only for the eye
	Caption     string
}

// Prepare returns a piece of HTML with a placeholder for each file whose address ours knows, and what
// those stand for, each file once. Of a picture in several sizes the widest is taken: other systems
// have one address for a picture, and it has to do for sharp screens.
func Prepare(piece string, ours func(address string) bool) (string, []Item, error) {
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(piece))
	if err != nil {
		return "", nil, err
	}
	var items []Item
	at := map[string]int{}
	place := func(address string, picture bool) (*Item, string) {
		i, known := at[address]
		if !known {
			i = len(items)
			at[address] = i
			kind := "FILE"
			if picture {
				kind = "PICTURE"
			}
			items = append(items, Item{Number: i + 1, Address: address, Placeholder: fmt.Sprintf("ADDRESS-OF-%s-%d", kind, i+1), Picture: picture})
		}
		return &items[i], items[i].Placeholder
	}
	doc.Find("img, a[href]").Each(func(_ int, s *goquery.Selection) {
		if goquery.NodeName(s) == "a" {
			if address := s.AttrOr("href", ""); ours(address) {
				item, placeholder := place(address, false)
				if item.Caption == "" {
					item.Caption = words(s.Text())
				}
				s.SetAttr("href", placeholder)
			}
			return
		}
		address := widest(s.AttrOr("src", ""), s.AttrOr("srcset", ""))
		if !ours(address) {
			return
		}
		item, placeholder := place(address, true)
		if item.Alt == "" {
			item.Alt = s.AttrOr("alt", "")
		}
		if item.Caption == "" {
			item.Caption = words(s.Closest("figure").Find("figcaption").First().Text())
		}
		s.SetAttr("src", placeholder)
		s.RemoveAttr("srcset")
		s.RemoveAttr("sizes")
		if up := s.Parent(); goquery.NodeName(up) == "picture" {
			up.ChildrenFiltered("source").Remove()
			s.Unwrap()
		}
	})
	out, err := doc.Find("body").Html()
	return strings.TrimSpace(out) + "\n", items, err
}

// widest is the address of the widest of some sizes (HTML Living Standard, "srcset": width
// descriptors); src where there are none.
func widest(src, srcset string) string {
	most := 0
	for one := range strings.SplitSeq(srcset, ",") {
		address, width, _ := strings.Cut(strings.TrimSpace(one), " ")
		if n, err := strconv.Atoi(strings.TrimSuffix(width, "w")); err == nil && strings.HasSuffix(width, "w") && n > most {
			src, most = address, n
		}
	}
	return src
}

func words(text string) string { return strings.Join(strings.Fields(text), " ") }
