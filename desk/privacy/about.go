package privacy

import (
	"encoding/json"
	"slices"
	"strings"
	"time"
	"unicode"

	"mivlet/core/consent"
	"mivlet/desk/access"
	"mivlet/store"
)

// shortest is the least number of letters of a name that is looked for.
const shortest = 2

// About is what the house keeps of one person, as it is given to them.
type About struct {
	Of       string    `json:"of"` // the name that was looked for
	House    string    `json:"house"`
	At       time.Time `json:"at"`
	Accounts []Account `json:"accounts"` // that have this name
	SeenOn   []Seen    `json:"seen_on"`  // pictures for which it is noted that they are seen on them
	NamedIn  []Named   `json:"named_in"` // pictures and pages whose words name them
	Brought  []Brought `json:"brought"`  // pictures that they brought in
	Did      []Entry   `json:"did"`      // what the trail says that they did
	ToldOf   []Entry   `json:"told_of"`  // what it says of them
}

// Account is what they sign in with. Hashes and secrets are left out: they say nothing of anybody.
type Account struct {
	Name       string            `json:"name"`
	Login      string            `json:"login"`
	Since      time.Time         `json:"since"`
	Keeper     bool              `json:"keeper"`
	Away       bool              `json:"may_no_longer_sign_in"`
	Roles      map[string]string `json:"roles"` // by section
	Provider   string            `json:"provider,omitempty"`
	Password   bool              `json:"has_password"`
	SecondStep bool              `json:"has_second_step"`
	Passkeys   []Key             `json:"passkeys"`
	Sessions   []Session         `json:"sessions"`
}

// Key is a passkey of theirs.
type Key struct {
	Browser string     `json:"browser"`
	Added   time.Time  `json:"added"`
	Used    *time.Time `json:"used,omitempty"`
}

// Session is where they are signed in.
type Session struct {
	Browser string    `json:"browser"`
	Since   time.Time `json:"since"`
	Used    time.Time `json:"used"`
}

// Picture is a picture, and who gets to see it.
type Picture struct {
	ID       uint     `json:"picture"`
	Name     string   `json:"name"`
	Original string   `json:"original_name"`
	Section  string   `json:"section"`
	InBin    bool     `json:"in_bin"`
	Live     []string `json:"live"`         // addresses of live pages that show it
	Drafts   []string `json:"drafts"`       // titles of pages with it that are not live so
	SentTo   []string `json:"destinations"` // that have files of it
}

// Seen is a picture on which somebody is seen.
type Seen struct {
	Picture
	Whom   string `json:"whom"` // as it was noted
	Answer string `json:"answer"`
	Until  string `json:"until,omitempty"`
	Note   string `json:"note,omitempty"`
	By     string `json:"noted_by,omitempty"`
	On     string `json:"noted_on,omitempty"`
	Veiled bool   `json:"covered"` // veils cover them
}

// Named is where words name somebody.
type Named struct {
	Picture *Picture `json:"picture,omitempty"`
	Page    string   `json:"page,omitempty"` // title
	Address string   `json:"address,omitempty"`
	Album   string   `json:"album,omitempty"`
	Banner  string   `json:"banner,omitempty"`
	In      []string `json:"in"` // which words: name, description, caption and so on
}

// Brought is a picture that they brought in.
type Brought struct {
	ID      uint      `json:"picture"`
	Name    string    `json:"name"`
	Section string    `json:"section"`
	At      time.Time `json:"at"`
	Camera  string    `json:"camera,omitempty"`   // inside the original
	HasGPS  bool      `json:"has_position"`       // inside the original
	Taken   string    `json:"taken_at,omitempty"` // inside the original
}

// Entry is one of the trail.
type Entry struct {
	At      time.Time `json:"at"`
	Person  string    `json:"person"`
	Section string    `json:"section,omitempty"`
	What    string    `json:"what"`
}

// About returns what the house keeps of a person, by the name that the house has for them: as a whole
// word, and whichever letters are capitals. The trail notes that it was asked for, and not of whom.
func (d *Desk) About(name string) (a About, err error) {
	if err := d.MayKeep(); err != nil {
		return a, err
	}
	wanted := wordsOf(name)
	if letters := len([]rune(strings.Join(wanted, ""))); letters < shortest {
		return a, access.Refuse(access.Bad, "The name is too short to be looked for.", "Enter the first name, the last name or both.")
	}
	a = About{Of: strings.TrimSpace(name), House: d.Rules().House, At: d.Now(), Accounts: []Account{}, SeenOn: []Seen{}, NamedIn: []Named{}, Brought: []Brought{}, Did: []Entry{}, ToldOf: []Entry{}}
	gather := gathering{&a, wanted, map[string]bool{}}
	err = d.Store.View(func(s store.Records) error {
		for _, from := range []func(store.Records) error{gather.accounts, gather.pictures, gather.pages, gather.trail} {
			if err := from(s); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return About{}, err
	}
	return a, d.Trace(d.Store, "", "Looked up what is kept of a person")
}

// gathering looks for one person.
type gathering struct {
	*About
	wanted []string
	names  map[string]bool // of their accounts
}

// named reports whether a text has the name, as words next to each other.
func (g *gathering) named(text string) bool {
	all := wordsOf(text)
	for i := 0; i+len(g.wanted) <= len(all); i++ {
		same := true
		for j, w := range g.wanted {
			same = same && all[i+j] == w
		}
		if same {
			return true
		}
	}
	return false
}

// wordsOf are the words of a text, in small letters.
func wordsOf(text string) []string {
	return strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !unicode.IsMark(r) })
}

func (g *gathering) accounts(s store.Records) error {
	people, err := s.People()
	if err != nil {
		return err
	}
	for _, p := range people {
		if !g.named(p.Name) && !g.named(p.Login) {
			continue
		}
		g.names[p.Name] = true
		one := Account{Name: p.Name, Login: p.Login, Since: p.CreatedAt, Keeper: p.Keeper, Away: p.Away, Roles: map[string]string{}, Provider: p.Issuer,
			Password: p.Password != "", SecondStep: p.Second != "", Passkeys: []Key{}, Sessions: []Session{}}
		for _, r := range p.Roles {
			one.Roles[r.Section] = r.Role
		}
		keys, err := s.Passkeys(p.ID)
		if err != nil {
			return err
		}
		for _, k := range keys {
			key := Key{Browser: k.Browser, Added: k.AddedAt}
			if !k.UsedAt.IsZero() {
				key.Used = &k.UsedAt
			}
			one.Passkeys = append(one.Passkeys, key)
		}
		sessions, err := s.SignedIn(p.ID)
		if err != nil {
			return err
		}
		for _, in := range sessions {
			one.Sessions = append(one.Sessions, Session{in.Browser, in.Since, in.SeenAt})
		}
		g.Accounts = append(g.Accounts, one)
	}
	return nil
}

func (g *gathering) pictures(s store.Records) error {
	return each(s, func(p store.Picture) error {
		var in []string
		for word, text := range map[string]string{"name": p.Name, "original_name": p.OriginalName, "description": p.Work.Alt, "long_description": p.Work.LongAlt, "caption": p.Work.Caption, "credit": p.Work.Credit, "hidden": p.Work.Hidden, "reason": p.Work.Reason} {
			if g.named(text) {
				in = append(in, word)
			}
		}
		var seen []consent.Entry
		for _, e := range p.Consents {
			if g.named(e.Whom) || g.named(e.Note) {
				seen = append(seen, e)
			}
		}
		if g.names[p.Person] {
			b := Brought{ID: p.ID, Name: access.NameOr(p), Section: p.Section, At: p.CreatedAt, Camera: p.Facts.Camera, HasGPS: p.Position}
			if !p.Facts.Taken.IsZero() {
				b.Taken = p.Facts.Taken.Format("2006-01-02T15:04:05")
			}
			g.Brought = append(g.Brought, b)
		}
		if len(in) == 0 && len(seen) == 0 {
			return nil
		}
		where, err := whereabouts(s, p)
		if err != nil {
			return err
		}
		if len(in) > 0 {
			g.NamedIn = append(g.NamedIn, Named{Picture: &where, In: slices.Sorted(slices.Values(in))})
		}
		for _, e := range seen {
			g.SeenOn = append(g.SeenOn, Seen{where, e.Whom, string(e.State), e.Until, e.Note, e.By, e.On, len(e.Veils) > 0})
		}
		return nil
	})
}

// whereabouts tells where a picture stands, and who has files of it.
func whereabouts(s store.Records, p store.Picture) (Picture, error) {
	at := Picture{ID: p.ID, Name: p.Name, Original: p.OriginalName, Section: p.Section, InBin: p.Station == store.Bin, Live: []string{}, Drafts: []string{}, SentTo: []string{}}
	live, err := s.LivePagesShowing(p.ID)
	if err != nil {
		return at, err
	}
	isLive := map[uint]bool{}
	for _, l := range live {
		isLive[l.ID] = true
		at.Live = append(at.Live, l.Path())
	}
	drafts, err := s.PagesWith(p.ID)
	if err != nil {
		return at, err
	}
	for _, l := range drafts {
		if !isLive[l.ID] {
			at.Drafts = append(at.Drafts, l.Doc.Title)
		}
	}
	sent, err := s.SentOf([]uint{p.ID})
	if err != nil || len(sent) == 0 {
		return at, err
	}
	all, err := s.Destinations()
	for _, d := range all {
		for _, f := range sent {
			if f.DestinationID == d.ID {
				at.SentTo = append(at.SentTo, d.Title)
				break
			}
		}
	}
	return at, err
}

func (g *gathering) pages(s store.Records) error {
	pages, err := s.Pages()
	if err != nil {
		return err
	}
	for _, p := range pages {
		if g.inside(p.Doc) {
			g.NamedIn = append(g.NamedIn, Named{Page: p.Doc.Title, Address: p.Path(), In: []string{"text"}})
		}
	}
	for _, dropped := range []bool{false, true} {
		albums, err := s.Albums(dropped)
		if err != nil {
			return err
		}
		for _, a := range albums {
			if g.inside(a.Doc) {
				g.NamedIn = append(g.NamedIn, Named{Album: a.Doc.Title, In: []string{"text"}})
			}
		}
		banners, err := s.Banners(dropped)
		if err != nil {
			return err
		}
		for _, b := range banners {
			if g.inside(b.Doc) {
				g.NamedIn = append(g.NamedIn, Named{Banner: b.Doc.Title, In: []string{"text"}})
			}
		}
	}
	return nil
}

// inside reports whether any text of a document names them.
func (g *gathering) inside(doc any) bool {
	text, err := json.Marshal(doc)
	if err != nil {
		return false // documents always have a JSON form
	}
	var parts any
	if json.Unmarshal(text, &parts) != nil {
		return false
	}
	return g.within(parts)
}

func (g *gathering) within(part any) bool {
	switch part := part.(type) {
	case string:
		return g.named(part)
	case []any:
		return slices.ContainsFunc(part, g.within)
	case map[string]any:
		for _, inner := range part {
			if g.within(inner) {
				return true
			}
		}
	}
	return false
}

func (g *gathering) trail(s store.Records) error {
	for before := uint(0); ; {
		some, err := s.Trail(store.TrailFilter{Before: before, Most: 1000})
		if err != nil || len(some) == 0 {
			return err
		}
		for _, t := range some {
			switch e := (Entry{t.At, t.Person, t.Section, t.What}); {
			case g.names[t.Person]:
				g.Did = append(g.Did, e)
			case g.named(t.What) || g.named(t.Person):
				g.ToldOf = append(g.ToldOf, e)
			}
		}
		before = some[len(some)-1].ID
	}
}
