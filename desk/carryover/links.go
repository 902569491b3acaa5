package carryover

import (
	"errors"
	"net/url"
	"path"
	"slices"
	"strings"

	"mivlet/core/carry"
	"mivlet/core/page"
	"mivlet/core/survey"
	"mivlet/desk/pages"
	"mivlet/store"
)

// leadOn leads the links of all pages that came over, and that are theirs to change, to the pages that came since.
func (d *Desk) leadOn(c *carrying) error {
	for at, id := range c.asPages {
		p, err := d.Store.Page(id)
		if errors.Is(err, store.ErrNotFound) || err == nil && (p.DroppedAt != nil || d.MayWork(p.Section) != nil) {
			continue
		}
		if err != nil {
			return err
		}
		c.from = &survey.Page{Path: at}
		to := func(address string) string {
			if u, err := url.Parse(address); err == nil && u.Host != "" && slices.Contains(c.Hosts, u.Host) {
				if now := d.linkOf(c, address); strings.HasPrefix(now, "/") {
					return now
				}
			}
			return ""
		}
		err = d.pages.Edit(id, pages.Newest, "Links to pages that came over since", func(doc page.Doc) (page.Doc, error) {
			doc.Blocks = slices.Clone(doc.Blocks)
			for i, b := range doc.Blocks {
				if b.Kind == page.Text || b.Kind == page.HTML || b.Kind == page.Beside {
					doc.Blocks[i].Text = carry.Links(b.Text, to)
				}
			}
			return doc, nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// linkOf is where a link of a page leads when it has been carried over: to what the other page became, else to where
// the site is reached; "" where nobody knows that.
func (d *Desk) linkOf(c *carrying, address string) string {
	u, err := url.Parse(address)
	if err != nil || u.Scheme == "javascript" || u.Scheme == "data" {
		return ""
	}
	hosts := c.Hosts
	if u.Scheme != "" && u.Host != "" && !slices.Contains(hosts, u.Host) || u.Scheme != "" && u.Host == "" {
		return address // elsewhere, or an address of mail
	}
	if u.Path == "" {
		return "" // within the page, whose places have other names here
	}
	at := strings.TrimPrefix(path.Clean(u.Path), "/")
	if !strings.HasPrefix(u.Path, "/") {
		at = strings.TrimPrefix(path.Join(path.Dir(c.from.Path), u.Path), "/")
	}
	for _, file := range []string{at, path.Join(at, "index.html"), path.Join(at, "index.htm"), at + ".html"} {
		if was, err := d.Store.Page(c.asPages[file]); err == nil && was.DroppedAt == nil {
			return was.Path()
		}
	}
	if len(hosts) == 0 || strings.HasPrefix(at, "..") {
		return ""
	}
	return (&url.URL{Scheme: "https", Host: hosts[0], Path: "/" + at, RawQuery: u.RawQuery, Fragment: u.Fragment}).String()
}
