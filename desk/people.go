package desk

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
	"gorm.io/gorm"

	"mivlet/store"
)

// shortest is the least number of characters of a password (NIST SP 800-63B,
// 5.1.1.2, memory: at least 8; longer where nothing else protects it).
const shortest = 10

var loginForm = regexp.MustCompile(`^[A-Za-z0-9._@+-]{2,60}$`)

// nobodysHash is compared with where there is no such login, so that a try
// takes as long as with one.
var nobodysHash = sync.OnceValue(func() string {
	h, err := argon2id.CreateHash("nobody has this password", argon2id.DefaultParams)
	if err != nil {
		panic(err)
	}
	return h
})

// SignIn checks a login and a password. from is where the try comes from. After
// some failures it is refused for a while.
func (d *Desk) SignIn(login, password, from string) (Person, error) {
	now := d.now()
	keys := []string{"login " + login, "from " + from}
	if wait := d.slowdown.wait(now, keys...); wait > 0 {
		return Person{}, refuse(TooSoon, fmt.Sprintf("That went wrong too often. Wait %d seconds.", int(wait/time.Second)+1), "Then try again, or ask a keeper for a new password.")
	}
	p, err := d.store.PersonByLogin(strings.TrimSpace(login))
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return Person{}, err
	}
	hash := p.Password
	if hash == "" || p.Away {
		hash = nobodysHash()
	}
	match, err := argon2id.ComparePasswordAndHash(password, hash)
	if err != nil {
		return Person{}, err
	}
	if !match || p.Password == "" || p.Away {
		d.slowdown.fail(now, keys...)
		return Person{}, refuse(Bad, "Name and password do not go together.", "Look at both and try again.")
	}
	d.slowdown.succeed(keys...)
	who := personOf(p)
	return who, d.As(who).trace(d.store, "", "Signed in")
}

// DemoSignIn signs in as one of the demo's people, who have no passwords.
func (d *Desk) DemoSignIn(id uint) (Person, error) {
	p, err := d.store.Person(id)
	if err != nil {
		return Person{}, missing(err, "That person")
	}
	if !d.demo || p.Password != "" || p.Away {
		return Person{}, refuse(Forbidden, "Only people of the demo sign in with one click.", "Use name and password.")
	}
	who := personOf(p)
	return who, d.As(who).trace(d.store, "", "Signed in")
}

// DemoPeople returns the people who sign in with one click; none outside of the
// demo.
func (d *Desk) DemoPeople() ([]Person, error) {
	if !d.demo {
		return nil, nil
	}
	all, err := d.store.People()
	var some []Person
	for _, p := range all {
		if p.Password == "" && !p.Away {
			some = append(some, personOf(p))
		}
	}
	return some, err
}

// Returning returns the person of a session, unless it has been ended.
func (d *Desk) Returning(id uint, epoch int) (Person, bool, error) {
	p, err := d.store.Person(id)
	if errors.Is(err, store.ErrNotFound) || err == nil && (p.Away || p.Epoch != epoch) {
		return Person{}, false, nil
	}
	return personOf(p), err == nil, err
}

// NeedsKeeper reports whether nobody has an account yet.
func (d *Desk) NeedsKeeper() (bool, error) {
	n, err := d.store.CountPeople()
	return n == 0, err
}

// FirstKeeper makes the account of the first keeper. It works once.
func (d *Desk) FirstKeeper(name, login, password string) (Person, error) {
	p := store.Person{Name: strings.TrimSpace(name), Login: strings.TrimSpace(login), Keeper: true, CreatedAt: d.now()}
	if err := checkAccount(p, password, true); err != nil {
		return Person{}, err
	}
	var err error
	if p.Password, err = argon2id.CreateHash(password, argon2id.DefaultParams); err != nil {
		return Person{}, err
	}
	err = d.store.Tx(func(s *store.Store) error {
		n, err := s.CountPeople()
		if err != nil {
			return err
		}
		if n > 0 {
			return refuse(Clash, "This house has a keeper already.", "Sign in, or ask the keeper for an account.")
		}
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		return d.As(personOf(p)).trace(s, "", "Became the first keeper")
	})
	return personOf(p), err
}

// Account is what a keeper says of a person.
type Account struct {
	ID       uint // 0 for a new one
	Name     string
	Login    string
	Password string // empty leaves it as it is
	Keeper   bool
	Away     bool
	Roles    map[string]Role
}

// SaveAccount makes or changes an account. The last keeper stays one.
func (d *Desk) SaveAccount(a Account) (uint, error) {
	if err := d.mayKeep(); err != nil {
		return 0, err
	}
	hash := ""
	if a.Password != "" {
		var err error
		if hash, err = argon2id.CreateHash(a.Password, argon2id.DefaultParams); err != nil {
			return 0, err
		}
	}
	var id uint
	err := d.store.Tx(func(s *store.Store) error {
		p := store.Person{CreatedAt: d.now()}
		if a.ID != 0 {
			var err error
			if p, err = s.Person(a.ID); err != nil {
				return missing(err, "That person")
			}
		}
		p.Name, p.Login, p.Keeper, p.Roles = strings.TrimSpace(a.Name), strings.TrimSpace(a.Login), a.Keeper, nil
		if err := checkAccount(p, a.Password, a.ID == 0); err != nil {
			return err
		}
		if hash != "" || a.Away != p.Away {
			p.Epoch++ // whoever is signed in must sign in again
		}
		p.Away = a.Away
		if hash != "" {
			p.Password = hash
		}
		for _, section := range d.Rules().Sections {
			switch r := a.Roles[section.Code]; r {
			case Contributor, Publisher:
				p.Roles = append(p.Roles, store.Role{Section: section.Code, Role: string(r)})
			case "":
			default:
				return refuse(Bad, fmt.Sprintf("There is no role %q.", r), "Choose contributor or publisher.")
			}
		}
		if err := s.SavePerson(&p); err != nil {
			if errors.Is(err, gorm.ErrDuplicatedKey) {
				return &Refusal{Clash, fmt.Sprintf("%s is taken as a sign-in name.", p.Login), "Choose another one.", err}
			}
			return err
		}
		if err := oneKeeperLeft(s); err != nil {
			return err
		}
		id = p.ID
		return d.trace(s, "", "Set the account of %s: %s", p.Name, rolesInWords(personOf(p), p.Away))
	})
	return id, err
}

func oneKeeperLeft(s *store.Store) error {
	all, err := s.People()
	if err != nil {
		return err
	}
	if slices.ContainsFunc(all, func(p store.Person) bool { return p.Keeper && !p.Away }) {
		return nil
	}
	return refuse(Clash, "The house would have no keeper left.", "Make somebody else a keeper first.")
}

func rolesInWords(p Person, away bool) string {
	if away {
		return "may not sign in any more"
	}
	var parts []string
	if p.Keeper {
		parts = append(parts, "keeper")
	}
	for _, section := range sortedKeys(p.Roles) {
		parts = append(parts, fmt.Sprintf("%s of %s", p.Roles[section], section))
	}
	if len(parts) == 0 {
		return "looks on"
	}
	return strings.Join(parts, ", ")
}

// sortedKeys is never nil: no roles must not be read as no limit.
func sortedKeys[V any](m map[string]V) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

func checkAccount(p store.Person, password string, isNew bool) error {
	switch {
	case p.Name == "":
		return refuse(Bad, "An account needs the name of its person.", "Write it as it should stand beside what they did.")
	case !loginForm.MatchString(p.Login):
		return refuse(Bad, "A sign-in name is 2 to 60 letters, digits or . _ @ + -.", "An e-mail address will do.")
	case isNew && password == "" || password != "" && utf8.RuneCountInString(password) < shortest:
		return refuse(Bad, fmt.Sprintf("A password has at least %d characters.", shortest), "Four words in a row are easy to keep in mind.")
	case strings.EqualFold(password, p.Login) && password != "":
		return refuse(Bad, "A password like the sign-in name is none.", "Four words in a row are easy to keep in mind.")
	}
	return nil
}

// SetOwnPassword changes the password of whoever is at the desk; all of their
// other sessions end.
func (d *Desk) SetOwnPassword(old, fresh string) (Person, error) {
	if err := d.mayLook(); err != nil {
		return Person{}, err
	}
	p, err := d.store.Person(d.who.ID)
	if err != nil {
		return Person{}, missing(err, "Your account")
	}
	if p.Password == "" {
		return Person{}, refuse(Clash, "People of the demo have no password.", "They sign in with one click.")
	}
	if match, err := argon2id.ComparePasswordAndHash(old, p.Password); err != nil || !match {
		return Person{}, errors.Join(err, refuse(Bad, "The old password is another one.", "Nothing was changed."))
	}
	if err := checkAccount(p, fresh, true); err != nil {
		return Person{}, err
	}
	if p.Password, err = argon2id.CreateHash(fresh, argon2id.DefaultParams); err != nil {
		return Person{}, err
	}
	return d.newEpoch(p, "Changed the own password")
}

// SignOutEverywhere ends all sessions of whoever is at the desk.
func (d *Desk) SignOutEverywhere() error {
	if err := d.mayLook(); err != nil {
		return err
	}
	p, err := d.store.Person(d.who.ID)
	if err != nil {
		return missing(err, "Your account")
	}
	_, err = d.newEpoch(p, "Signed out everywhere")
	return err
}

func (d *Desk) newEpoch(p store.Person, what string) (Person, error) {
	p.Epoch++
	err := d.store.Tx(func(s *store.Store) error {
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		return d.trace(s, "", "%s", what)
	})
	return personOf(p), err
}

// People returns all people, for those who keep the house.
func (d *Desk) People() ([]store.Person, error) {
	if err := d.mayKeep(); err != nil {
		return nil, err
	}
	return d.store.People()
}

// Trail returns who did what, newest first, for those who keep the house.
func (d *Desk) Trail(f store.TrailFilter) ([]store.Trace, error) {
	if err := d.mayKeep(); err != nil {
		return nil, err
	}
	return d.store.Trail(f)
}

// SectionPeople returns the names of those who work for a section.
func (d *Desk) SectionPeople(section string) ([]Person, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	all, err := d.store.People()
	var own []Person
	for _, p := range all {
		if who := personOf(p); who.Roles[section] != "" && !p.Away {
			own = append(own, who)
		}
	}
	return own, err
}
