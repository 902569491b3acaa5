package access

import (
	"fmt"
	"regexp"

	"mivlet/desk/presence"
	"mivlet/store"
)

// Person is somebody who works at a desk, with what they may do. The zero value
// is nobody, who may do nothing.
type Person struct {
	ID     uint
	Name   string
	Login  string
	Keeper bool
	Roles  map[string]Role // by code of the section
	epoch  int
	known  bool

	session uint // that they are at work in; 0 where that is not known
}

// MostName is the most characters of a person's name.
const MostName = 80

var loginForm = regexp.MustCompile(`^[A-Za-z0-9._@+-]{2,60}$`)

// IsLogin reports whether somebody can sign in with a name like this.
func IsLogin(name string) bool { return loginForm.MatchString(name) }

// Role is what a person may do in a section.
type Role string

// The roles. A publisher may do what a contributor may.
const (
	Contributor Role = "contributor" // works on pictures and drafts
	Publisher   Role = "publisher"   // also publishes
)

// theHouse is who does what nobody in particular does.
var theHouse = Person{Name: "Mivlet", Keeper: true, known: true}

// Known reports whether it is anybody at all.
func (p Person) Known() bool { return p.known }

// Epoch counts up where all sessions of a person end.
func (p Person) Epoch() int { return p.epoch }

// Session is the one that the person is at work in; 0 where that is not known.
func (p Person) Session() uint { return p.session }

// In returns the same person, at work in a session.
func (p Person) In(session uint) Person {
	p.session = session
	return p
}

// CanWork reports whether the person works on pictures and drafts of a section.
func (p Person) CanWork(section string) bool { return p.Keeper || p.Roles[section] != "" }

// CanPublish reports whether the person publishes for a section.
func (p Person) CanPublish(section string) bool { return p.Keeper || p.Roles[section] == Publisher }

// WorksSomewhere reports whether the person works on anything.
func (p Person) WorksSomewhere() bool { return p.Keeper || len(p.Roles) > 0 }

// RoleIn returns the role in a section, or "".
func (p Person) RoleIn(section string) Role { return p.Roles[section] }

// PersonOf is a person as the store keeps them.
func PersonOf(p store.Person) Person {
	out := Person{ID: p.ID, Name: p.Name, Login: p.Login, Keeper: p.Keeper, Roles: map[string]Role{}, epoch: p.Epoch, known: true}
	for _, r := range p.Roles {
		out.Roles[r.Section] = Role(r.Role)
	}
	return out
}

// Visitor is whoever is at the desk, as others in a room are told of them.
func (d *Seat) Visitor() presence.Member {
	return presence.Member{ID: d.Person.ID, Name: d.Person.Name}
}

// MayLook refuses those who are not signed in.
func (d *Seat) MayLook() error {
	if d.Person.known {
		return nil
	}
	return Refuse(SignIn, "You are not signed in.", "Sign in; what you typed is kept.")
}

// MayWork refuses those who do not work for a section.
func (d *Seat) MayWork(section string) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if d.Person.CanWork(section) {
		return nil
	}
	return Refuse(Forbidden, fmt.Sprintf("You do not work for %s.", d.SectionTitle(section)), "Ask a keeper to add you as a contributor.")
}

// MayPublish refuses those who do not publish for a section.
func (d *Seat) MayPublish(section string) error {
	if err := d.MayWork(section); err != nil {
		return err
	}
	if d.Person.CanPublish(section) {
		return nil
	}
	return Refuse(Forbidden, fmt.Sprintf("Only publishers of %s can publish this.", d.SectionTitle(section)), "Ask one of them; the draft is kept.")
}

// MayKeep refuses those who do not keep the house.
func (d *Seat) MayKeep() error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if d.Person.Keeper {
		return nil
	}
	return Refuse(Forbidden, "Only keepers can do this.", "Ask a keeper to do it.")
}

// Mine returns a picture that whoever is at the desk may work on.
func (d *Seat) Mine(s store.Records, id uint) (store.Picture, error) {
	if err := d.MayLook(); err != nil {
		return store.Picture{}, err
	}
	p, err := s.Picture(id)
	if err != nil {
		return p, NotFound(err, "The picture")
	}
	return p, d.MayWork(p.Section)
}

// Visible returns a picture that whoever is at the desk may look at. What has only
// arrived, and what lies in the bin, is seen by its own section alone.
func (d *Seat) Visible(id uint) (store.Picture, error) {
	if err := d.MayLook(); err != nil {
		return store.Picture{}, err
	}
	p, err := d.Store.Picture(id)
	if err != nil {
		return p, NotFound(err, "The picture")
	}
	if !d.Sees(p) {
		return store.Picture{}, d.MayWork(p.Section)
	}
	return p, nil
}

// Sees reports whether whoever is at work may look at a picture.
func (d *Seat) Sees(p store.Picture) bool { return p.Shelved || d.Person.CanWork(p.Section) }

// SectionTitle is what a section is called.
func (d *Seat) SectionTitle(code string) string {
	if s, ok := d.Rules().Section(code); ok {
		return s.Title
	}
	return "That section"
}

// Trace writes into the trail who did what.
func (d *Seat) Trace(s store.Records, section, what string, args ...any) error {
	return d.TraceAs(d.Person, s, section, what, args...)
}

// TraceAs is trace for somebody else than who is at the desk.
func (d *Seat) TraceAs(who Person, s store.Records, section, what string, args ...any) error {
	d.NowSettled(false)
	return s.AddTrace(store.Trace{At: d.Now(), PersonID: who.ID, Person: who.Name, Section: section, What: fmt.Sprintf(what, args...)})
}

// TracePicture is trace for what was done with a picture.
func (d *Seat) TracePicture(s store.Records, p store.Picture, what string, args ...any) error {
	d.NowSettled(false)
	return s.AddTrace(store.Trace{At: d.Now(), PersonID: d.Person.ID, Person: d.Person.Name, Section: p.Section, PictureID: p.ID, What: fmt.Sprintf(what, args...)})
}

// IsSettled reports whether what is kept of every page was worked out in this request, and
// nothing has been written since.
func (d *Seat) IsSettled() bool { return d.settled != nil && *d.settled }

// NowSettled says that what is kept of every page is worked out; false that something was
// written in this request, so that it may have to be worked out once more.
func (d *Seat) NowSettled(yes bool) {
	if d.settled != nil {
		*d.settled = yes
	}
}

// MayMeasure lets everybody measure who works on anything.
func (d *Seat) MayMeasure() error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if d.Person.WorksSomewhere() {
		return nil
	}
	return Refuse(Forbidden, "Only people who work for a section can measure.", "Ask a keeper to add you to one.")
}
