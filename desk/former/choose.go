package former

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"mivlet/core/mend"
	"mivlet/core/naming"
	"mivlet/core/survey"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/store"
)

// Spot is a picture on a page that somebody describes.
type Spot struct {
	Page, Address, File string
	Title               string   // of the page
	Caption, Near       string   // the words beside it
	Was                 string   // what it says so far
	LinksTo             string   // where it leads, where that is all that the link has
	Others              []string // what the same picture says elsewhere
	Also                int      // on how many pages more the same picture says nothing
	Left                int      // spots that are still to be described, with this one
	Language            string
}

// key tells spots apart.
func (s Spot) key() mend.Spot { return mend.Spot{Page: s.Page, Address: s.Address} }

// wanting are the codes of what only somebody who looks at the picture can mend.
var wanting = []survey.Code{survey.NoAlt, "alt-missing", "alt-missing-link", "alt-file-name", "alt-placeholder", "alt-decorative-link", "alt-decorative-words"}

// NeedsWords reports whether findings of a code are mended by describing a picture.
func NeedsWords(code survey.Code) bool { return slices.Contains(wanting, code) }

// undescribed are the spots that a description is needed for and that nobody wrote one for, in the order of the
// pages; the same picture at the same address of a page is one.
func undescribed(found known, c mend.Choices) (all []Spot) {
	needs := map[mend.Spot]bool{}
	for _, f := range found.report.Findings {
		if NeedsWords(f.Code) {
			needs[mend.Spot{Page: f.Page, Address: f.Address}] = true
		}
	}
	for _, p := range found.Pages {
		for i := range p.Uses {
			u := &p.Uses[i]
			key := mend.Spot{Page: p.Path, Address: u.Address}
			if u.Kind != survey.Image || u.Tag < 0 || !needs[key] || found.Files[u.File] == nil {
				continue
			}
			needs[key] = false
			if _, said := c.Words[key]; !said {
				all = append(all, spotOf(p, u))
			}
		}
	}
	return all
}

func spotOf(p *survey.Page, u *survey.Use) Spot {
	s := Spot{Page: p.Path, Address: u.Address, File: u.File, Title: p.Title, Caption: u.Caption, Near: u.Near, Was: u.Alt, Language: p.Language}
	if u.Links {
		s.LinksTo = u.LinksTo
	}
	return s
}

// Next returns the first spot that is still to be described after one that somebody has just looked at; the
// first of all where after is empty or the last. ok is false where nothing is to be described.
func (d *Desk) Next(id uint, after mend.Spot) (v View, s Spot, ok bool, err error) {
	if v, err = d.Of(id); err != nil {
		return v, s, false, err
	}
	found, err := d.survey(d.Context, v.FormerSite)
	if err != nil {
		return v, s, false, err
	}
	c := choicesOf(v.Choices)
	all := undescribed(found, c)
	if len(all) == 0 {
		return v, s, false, nil
	}
	i := 0
	if n := slices.IndexFunc(all, func(s Spot) bool { return s.key() == after }); n >= 0 {
		i = (n + 1) % len(all)
	} else if after.Page != "" {
		i = max(0, slices.IndexFunc(all, func(s Spot) bool { return s.Page >= after.Page && s.key() != after }))
	}
	s = all[i]
	s.Left = len(all)
	for _, other := range all {
		if other.File == s.File && other.key() != s.key() {
			s.Also++
		}
	}
	s.Others = textsOf(found, c, s)
	return v, s, true, nil
}

// textsOf are what the picture of a spot says elsewhere, each once.
func textsOf(found known, c mend.Choices, s Spot) []string {
	texts := map[string]bool{}
	hash := found.Files[s.File].Hash
	for _, p := range found.Pages {
		for _, u := range p.Uses {
			f := found.Files[u.File]
			if f == nil || u.File != s.File && (hash == "" || f.Hash != hash) {
				continue
			}
			text := u.Alt
			if w, said := c.Words[mend.Spot{Page: p.Path, Address: u.Address}]; said {
				text = w
			}
			if text != "" && text != s.Was && !strings.EqualFold(text, path.Base(s.File)) {
				texts[text] = true
			}
		}
	}
	return slices.Sorted(maps.Keys(texts))
}

// mostAlt is how many letters a description has, at most.
const mostAlt = 1000

// Describe has a picture say something on a page, and, where everywhere is set, wherever else the same picture
// needs a description. An empty text says that it is decoration. It returns how many spots that are.
func (d *Desk) Describe(id uint, at mend.Spot, text string, everywhere bool) (int, error) {
	f, err := d.site(id)
	if err != nil {
		return 0, err
	}
	text = strings.Join(strings.Fields(text), " ")
	if len([]rune(text)) > mostAlt {
		return 0, access.Refuse(access.Bad, fmt.Sprintf("That description has more than %d letters.", mostAlt), "Say what matters on this page, in a sentence or two.")
	}
	found, err := d.survey(d.Context, f)
	if err != nil {
		return 0, err
	}
	page, use := useAt(found, at)
	if use == nil {
		return 0, access.Refuse(access.Missing, "That picture is not on that page.", "Go back to the report.")
	}
	if text == "" && use.Links {
		return 0, access.Refuse(access.Bad, "This picture is a link, and nothing else says where it leads.", "Write where it leads.")
	}
	spots := []mend.Spot{at}
	err = d.Store.Tx(func(s store.Records) error {
		all, err := s.FormerChoices(id)
		if err != nil {
			return err
		}
		if everywhere {
			for _, other := range undescribed(found, choicesOf(all)) {
				if other.File == use.File && other.key() != at && (text != "" || other.LinksTo == "") {
					spots = append(spots, other.key())
				}
			}
		}
		for _, one := range spots {
			if err := s.ChooseForFormer(&store.FormerChoice{FormerSiteID: id, Kind: store.FormerWords, Page: one.Page, Address: one.Address, Text: text, Person: d.Person.Name, At: d.Now()}); err != nil {
				return err
			}
		}
		return d.Trace(s, "", "Described %s on %s of %s", path.Base(use.File), page.Path, f.Title)
	})
	return len(spots), err
}

// useAt is a picture on a page.
func useAt(found known, at mend.Spot) (*survey.Page, *survey.Use) {
	for _, p := range found.Pages {
		if p.Path != at.Page {
			continue
		}
		for i := range p.Uses {
			if u := &p.Uses[i]; u.Kind == survey.Image && u.Address == at.Address && u.Tag >= 0 && found.Files[u.File] != nil {
				return p, u
			}
		}
	}
	return nil, nil
}

// Name is a picture that is called as a camera did, with a name for it.
type Name struct {
	File     string
	Proposed string
	Alt      string // what it says
	Pages    int    // that show it
}

// unnamed are pictures on pages that are called as a camera did, and that nobody named, in the order of their
// paths. What has the content of another file is shown from that one, and needs no name.
func unnamed(found known, c mend.Choices) (all []Name) {
	at := map[string]int{}
	same := map[string]bool{}
	for _, f := range found.report.Findings {
		switch f.Code {
		case survey.SameContent:
			same[f.Picture] = true
		case survey.CameraName:
			if c.Names[f.Picture] == "" && f.Cost.Pages > 0 {
				at[f.Picture] = f.Cost.Pages
			}
		}
	}
	for file, pages := range at {
		if !same[file] {
			all = append(all, Name{File: file, Pages: pages})
		}
	}
	slices.SortFunc(all, func(a, b Name) int { return strings.Compare(a.File, b.File) })
	return all
}

// Names proposes names for pictures that are called as a camera did: of what they say, or of the title of the
// page that shows them. No name is proposed twice in a folder, nor one that a file has.
func (d *Desk) Names(id uint) (View, []Name, error) {
	v, err := d.Of(id)
	if err != nil {
		return v, nil, err
	}
	found, err := d.survey(d.Context, v.FormerSite)
	if err != nil {
		return v, nil, err
	}
	c := choicesOf(v.Choices)
	all := unnamed(found, c)
	at := map[string]int{}
	for i, n := range all {
		at[n.File] = i
	}
	titles := map[string]string{}
	for _, p := range found.Pages {
		for _, u := range p.Uses {
			i, wanted := at[u.File]
			if !wanted {
				continue
			}
			text := u.Alt
			if w, said := c.Words[mend.Spot{Page: p.Path, Address: u.Address}]; said {
				text = w
			}
			if all[i].Alt == "" && saysSomething(text, u) {
				all[i].Alt = text
			}
			if titles[u.File] == "" {
				titles[u.File] = p.Title
			}
		}
	}
	taken := takenNames(found, c.Names)
	for i, n := range all {
		all[i].Proposed = propose(n, titles[n.File], taken)
	}
	return v, all, nil
}

// takenNames are the names that files have, and those that are given to some, each with its folder.
func takenNames(found known, given map[string]string) map[string]bool {
	taken := map[string]bool{}
	for file := range found.Files {
		taken[strings.ToLower(strings.TrimSuffix(file, path.Ext(file)))] = true
	}
	for file, name := range given {
		taken[path.Join(path.Dir(file), name)] = true
	}
	return taken
}

// saysSomething reports whether a text is a description, and no file name.
func saysSomething(text string, u survey.Use) bool {
	if strings.TrimSpace(text) == "" {
		return false
	}
	for _, r := range words.Check(words.Said{Alt: text, Caption: u.Caption}) {
		if r.Code == "file-name" || r.Code == "placeholder" {
			return false
		}
	}
	return true
}

func propose(n Name, title string, taken map[string]bool) string {
	stem := shortName(n.Alt)
	if stem == "" {
		stem = shortName(title)
	}
	if stem == "" {
		stem = "picture"
	}
	name := stem
	for k := 2; taken[path.Join(path.Dir(n.File), name)]; k++ {
		name = fmt.Sprintf("%s-%d", stem, k)
	}
	taken[path.Join(path.Dir(n.File), name)] = true
	return name
}

// shortName is a name of the first words of a text, as many of them as a name holds whole.
func shortName(text string) string {
	name, kept := "", ""
	for _, word := range strings.Fields(text) {
		kept += " " + word
		longer := naming.Identifier(kept)
		if !strings.HasSuffix(longer, naming.Identifier(word)) {
			break // it is cut off
		}
		name = longer
	}
	return name
}

// Rename gives pictures names, all of them or none: a name that cannot be given is refused.
func (d *Desk) Rename(id uint, names map[string]string) error {
	f, err := d.site(id)
	if err != nil {
		return err
	}
	if len(names) == 0 {
		return access.Refuse(access.Bad, "No picture is ticked.", "Tick those that you want to name.")
	}
	found, err := d.survey(d.Context, f)
	if err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		all, err := s.FormerChoices(id)
		if err != nil {
			return err
		}
		others := choicesOf(all).Names
		maps.DeleteFunc(others, func(file, _ string) bool { _, again := names[file]; return again })
		taken := takenNames(found, others)
		for _, file := range slices.Sorted(maps.Keys(names)) {
			name := strings.TrimSpace(names[file])
			if _, err := found.picture(file); err != nil {
				return err
			}
			if name == "" || name != naming.Identifier(name) {
				return access.Refuse(access.Bad, fmt.Sprintf("%q cannot be a name.", name), "Use small letters, digits and hyphens, such as boats-at-the-pier.")
			}
			if at := path.Join(path.Dir(file), name); taken[at] {
				return access.Refuse(access.Clash, fmt.Sprintf("%q is taken in that folder.", name), "Give each picture a name of its own.")
			}
			taken[path.Join(path.Dir(file), name)] = true
			if err := s.ChooseForFormer(&store.FormerChoice{FormerSiteID: id, Kind: store.FormerName, File: file, Text: name, Person: d.Person.Name, At: d.Now()}); err != nil {
				return err
			}
		}
		return d.Trace(s, "", "Named %s of %s", access.Count(len(names), "picture"), f.Title)
	})
}

// Leave has a picture stay as it is, wherever it is shown.
func (d *Desk) Leave(id uint, file string) error {
	f, found, err := d.surveyed(id)
	if err != nil {
		return err
	}
	if found.Files[file] == nil {
		return access.Refuse(access.Missing, fmt.Sprintf("There is no %q in that site.", file), "Go back to the report.")
	}
	return d.decide(store.FormerChoice{FormerSiteID: id, Kind: store.FormerLeft, File: file}, "", "Left %s of %s as it is", path.Base(file), f.Title)
}

// decide keeps what somebody decided about a picture, and notes it in the trail of a section.
func (d *Desk) decide(c store.FormerChoice, section, what string, with ...any) error {
	c.Person, c.At = d.Person.Name, d.Now()
	return d.Store.Tx(func(s store.Records) error {
		if err := s.ChooseForFormer(&c); err != nil {
			return err
		}
		return d.Trace(s, section, what, with...)
	})
}

// TakeBack undoes a decision.
func (d *Desk) TakeBack(id, choice uint) error {
	f, err := d.site(id)
	if err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		if err := s.DropFormerChoice(id, choice); err != nil {
			return err
		}
		return d.Trace(s, "", "Took a decision about %s back", f.Title)
	})
}
