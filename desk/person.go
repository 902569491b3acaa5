package desk

import (
	"fmt"

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
}

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

// CanWork reports whether the person works on pictures and drafts of a section.
func (p Person) CanWork(section string) bool { return p.Keeper || p.Roles[section] != "" }

// CanPublish reports whether the person publishes for a section.
func (p Person) CanPublish(section string) bool { return p.Keeper || p.Roles[section] == Publisher }

// WorksSomewhere reports whether the person works on anything.
func (p Person) WorksSomewhere() bool { return p.Keeper || len(p.Roles) > 0 }

// RoleIn returns the role in a section, or "".
func (p Person) RoleIn(section string) Role { return p.Roles[section] }

func personOf(p store.Person) Person {
	out := Person{ID: p.ID, Name: p.Name, Login: p.Login, Keeper: p.Keeper, Roles: map[string]Role{}, epoch: p.Epoch, known: true}
	for _, r := range p.Roles {
		out.Roles[r.Section] = Role(r.Role)
	}
	return out
}

// mayLook refuses those who are not signed in.
func (d *Desk) mayLook() error {
	if d.who.known {
		return nil
	}
	return refuse(SignIn, "You are not signed in.", "Sign in; what you typed is kept.")
}

// mayWork refuses those who do not work for a section.
func (d *Desk) mayWork(section string) error {
	if err := d.mayLook(); err != nil {
		return err
	}
	if d.who.CanWork(section) {
		return nil
	}
	return refuse(Forbidden, fmt.Sprintf("%s is kept by others: you are not one of its contributors.", d.sectionTitle(section)), "A keeper can let you work there.")
}

// mayPublish refuses those who do not publish for a section.
func (d *Desk) mayPublish(section string) error {
	if err := d.mayWork(section); err != nil {
		return err
	}
	if d.who.CanPublish(section) {
		return nil
	}
	return refuse(Forbidden, fmt.Sprintf("Publishing %s is for its publishers.", d.sectionTitle(section)), "Ask one of them to publish it; the draft is kept.")
}

// mayKeep refuses those who do not keep the house.
func (d *Desk) mayKeep() error {
	if err := d.mayLook(); err != nil {
		return err
	}
	if d.who.Keeper {
		return nil
	}
	return refuse(Forbidden, "This is for keepers of the house.", "Ask a keeper to do it.")
}

// mine returns a picture that whoever is at the desk may work on.
func (d *Desk) mine(s *store.Store, id uint) (store.Picture, error) {
	if err := d.mayLook(); err != nil {
		return store.Picture{}, err
	}
	p, err := s.Picture(id)
	if err != nil {
		return p, missing(err, "The picture")
	}
	return p, d.mayWork(p.Section)
}

// visible returns a picture that whoever is at the desk may look at. What has only
// arrived, and what lies in the bin, is seen by its own section alone.
func (d *Desk) visible(id uint) (store.Picture, error) {
	if err := d.mayLook(); err != nil {
		return store.Picture{}, err
	}
	p, err := d.store.Picture(id)
	if err != nil {
		return p, missing(err, "The picture")
	}
	if !d.sees(p) {
		return store.Picture{}, d.mayWork(p.Section)
	}
	return p, nil
}

func (d *Desk) sees(p store.Picture) bool { return p.Shelved || d.who.CanWork(p.Section) }

func (d *Desk) sectionTitle(code string) string {
	if s, ok := d.Rules().Section(code); ok {
		return s.Title
	}
	return "That section"
}

// trace writes into the trail who did what.
func (d *Desk) trace(s *store.Store, section, what string, args ...any) error {
	d.unsettled()
	return s.AddTrace(store.Trace{At: d.now(), PersonID: d.who.ID, Person: d.who.Name, Section: section, What: fmt.Sprintf(what, args...)})
}

// tracePicture is trace for what was done with a picture.
func (d *Desk) tracePicture(s *store.Store, p store.Picture, what string, args ...any) error {
	d.unsettled()
	return s.AddTrace(store.Trace{At: d.now(), PersonID: d.who.ID, Person: d.who.Name, Section: p.Section, PictureID: p.ID, What: fmt.Sprintf(what, args...)})
}
