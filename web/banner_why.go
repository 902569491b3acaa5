package web

import (
	"fmt"

	"mivlet/core/banner"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/sentences"
)

// Told is one condition in words, with the step that mends it.
type Told struct {
	Met       bool
	Says      string
	Mend, URL string
}

// Conditions are the answer to why the banner shows on a page, or does not.
func (v bannerView) Conditions() []Told {
	about := v.about()
	all := make([]Told, len(v.Why.Conditions))
	for i, c := range v.Why.Conditions {
		all[i].Met = c.Met
		all[i].Says, all[i].Mend = sentences.Condition(c, about)
		all[i].URL = v.mends(c)
	}
	return all
}

// about is what its conditions are about.
func (v bannerView) about() sentences.About {
	doc := v.Doc
	if v.Live != nil {
		doc = *v.Live
	}
	a := sentences.About{Banner: banner.Banner{Doc: doc}, Spot: doc.Spot, Occasion: v.Why.Occasion, Page: v.Why.Page.Doc.Title, Holder: v.Why.Holder, Today: v.Why.Today}
	for _, o := range v.Occasions {
		if o.ID == doc.Occasion {
			known := o.Known()
			a.Banner.In = &known
		}
	}
	if spot, ok := v.rules.Spot(doc.Spot); ok {
		a.Spot, a.AsBlock = spot.Title, spot.Where == rules.AsBlock
	}
	if s, ok := v.rules.Section(v.Why.Page.Section); ok {
		a.Section = s.Title
	}
	var titles []string
	for _, code := range doc.Sections {
		if s, ok := v.rules.Section(code); ok {
			code = s.Title
		}
		titles = append(titles, code)
	}
	a.Sections = words.Listed(titles)
	return a
}

// mends is where a condition is mended.
func (v bannerView) mends(c banner.Condition) string {
	own := fmt.Sprintf("/banners/%d", v.ID)
	switch c.Code {
	case banner.IsApproved, banner.IsFit, banner.IsGoing:
		return own + "#approval"
	case banner.HasOccasion, banner.InOccasion:
		return own + "#banner-occasion"
	case banner.HasBegun:
		return own + "#banner-from"
	case banner.IsNotOver:
		return own + "#banner-until"
	case banner.HasSpot:
		return own + "#banner-spot"
	case banner.ForSection, banner.ForTags, banner.ForWords:
		return own + "#banner-pages"
	case banner.OwnIsAsked, banner.SpotOnPage:
		if c.Code == banner.SpotOnPage && v.about().AsBlock {
			return fmt.Sprintf("/pages/%d", v.Why.Page.ID)
		}
		return "/rules?part=spots"
	case banner.PageIsLive, banner.PageIsNew:
		return fmt.Sprintf("/pages/%d", v.Why.Page.ID)
	case banner.HasTurn:
		return fmt.Sprintf("/banners/%d", c.Holder)
	}
	return own
}
