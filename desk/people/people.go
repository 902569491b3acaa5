package people

import (
	"cmp"
	"crypto/rand"
	"crypto/subtle"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/store"
)

// shortest is the least number of characters of a password (NIST SP 800-63B,
// 5.1.1.2, memory: at least 8; longer where nothing else protects it).
const shortest = 10

// nobodysHash is compared with where there is no such login, so that a try
// takes as long as with one.
var nobodysHash = sync.OnceValue(func() string {
	h, err := argon2id.CreateHash("nobody has this password", argon2id.DefaultParams)
	if err != nil {
		panic(err)
	}
	return h
})

// SignIn checks a login and a password. from is where the try comes from. After some
// failures of the account, or very many from one address, it is refused for a while.
// What fails is in the trail. Where the account has a second step, it fails with a [*NeedsCode].
func (d *Desk) SignIn(login, password, from string) (access.Person, error) {
	login = strings.TrimSpace(login)
	right, err := d.guess(login, from)
	if err != nil {
		return access.Person{}, err
	}
	p, err := d.Store.PersonByLogin(login)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return access.Person{}, err
	}
	hash := p.Password
	if hash == "" || p.Away {
		hash = nobodysHash()
	}
	match, err := d.matches(password, hash)
	if err != nil {
		return access.Person{}, err
	}
	if !match || p.Password == "" || p.Away {
		whom := "a sign-in name that nobody has" // it may be a password in the wrong field
		if p.ID != 0 {
			whom = p.Login
		}
		return access.Person{}, cmp.Or(d.TraceAs(access.Person{Name: "Nobody signed in"}, d.Store, "", "A sign-in failed: %s, from %s", whom, from), ErrWrong())
	}
	right()
	if p.Second != "" {
		return access.Person{}, d.askForCode(p)
	}
	who := access.PersonOf(p)
	return who, d.TraceAs(who, d.Store, "", "Signed in")
}

// DemoSignIn signs in as one of the demo's people, who have no passwords.
func (d *Desk) DemoSignIn(id uint) (access.Person, error) {
	p, err := d.Store.Person(id)
	if err != nil {
		return access.Person{}, access.NotFound(err, "That person")
	}
	if !d.demo || p.Password != "" || p.Invitation != "" || p.Subject != "" || p.Away {
		return access.Person{}, access.Refuse(access.Forbidden, "Only people of the demo sign in with one click.", "Use name and password.")
	}
	who := access.PersonOf(p)
	return who, d.TraceAs(who, d.Store, "", "Signed in")
}

// DemoPeople returns the people who sign in with one click; none outside of the
// demo.
func (d *Desk) DemoPeople() ([]access.Person, error) {
	if !d.demo {
		return nil, nil
	}
	all, err := d.Store.People()
	var some []access.Person
	for _, p := range all {
		if p.Password == "" && p.Invitation == "" && p.Subject == "" && !p.Away {
			some = append(some, access.PersonOf(p))
		}
	}
	return some, err
}

// Returning returns the person of a session, unless it has been ended.
func (d *Desk) Returning(id uint, epoch int) (access.Person, bool, error) {
	p, err := d.Store.Person(id)
	if errors.Is(err, store.ErrNotFound) || err == nil && (p.Away || p.Epoch != epoch) {
		return access.Person{}, false, nil
	}
	return access.PersonOf(p), err == nil, err
}

// NeedsKeeper reports whether nobody has an account yet.
func (d *Desk) NeedsKeeper() (bool, error) {
	n, err := d.Store.CountPeople()
	return n == 0, err
}

// firstCodes is the code that the first keeper is asked for, in all programs of the house and when one is started again.
const firstCodes access.Passing = "first keeper"

// firstCodeLasts is how long a link for the first keeper is good.
const firstCodeLasts = 30 * 24 * time.Hour

// FirstCode is the code that the first keeper is asked for: it is told on the machine
// that Mivlet runs on, so that nobody else on the network takes the house.
func (d *Desk) FirstCode() (code string, err error) {
	err = d.Store.Tx(func(s store.Records) error {
		known, err := firstCodes.Kept(s, "", d.Now(), &code)
		if err != nil || known {
			return err
		}
		code = rand.Text()[:8]
		return firstCodes.Keep(s, "", code, d.Now().Add(firstCodeLasts))
	})
	return code, err
}

// FirstKeeper makes the account of the first keeper, for whoever has the code that was
// told on the machine. It works once. from is where the try comes from.
func (d *Desk) FirstKeeper(name, login, password, code, from string) (access.Person, error) {
	right, err := d.guess("first keeper", from)
	if err != nil {
		return access.Person{}, err
	}
	if needs, err := d.NeedsKeeper(); err != nil {
		return access.Person{}, err
	} else if !needs {
		return access.Person{}, hasKeeper()
	}
	first, err := d.FirstCode()
	if err != nil {
		return access.Person{}, err
	}
	if subtle.ConstantTimeCompare([]byte(strings.ToUpper(strings.TrimSpace(code))), []byte(first)) != 1 {
		return access.Person{}, access.Refuse(access.Bad, "That code is wrong.", "You find it where Mivlet was started, below its address.")
	}
	right()
	p := store.Person{Name: words.VisibleLine(name, access.MostName), Login: strings.TrimSpace(login), Keeper: true, CreatedAt: d.Now()}
	if err := checkAccount(p, password, true); err != nil {
		return access.Person{}, err
	}
	if p.Password, err = d.hashed(password); err != nil {
		return access.Person{}, err
	}
	err = d.Store.Tx(func(s store.Records) error {
		n, err := s.CountPeople()
		if err != nil {
			return err
		}
		if n > 0 {
			return hasKeeper()
		}
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		if err := firstCodes.Drop(s, ""); err != nil {
			return err
		}
		return d.TraceAs(access.PersonOf(p), s, "", "Became the first keeper")
	})
	return access.PersonOf(p), err
}

func hasKeeper() error {
	return access.Refuse(access.Clash, "This house has a keeper already.", "Sign in, or ask the keeper for an account.")
}

// Recover gives a keeper who cannot sign in any more a new password, takes their second step and passkeys away and
// ends all of their sessions: an act of whoever runs the machine, told in the trail.
func (d *Desk) Recover(login string) (password string, err error) {
	if err := d.MayKeep(); err != nil {
		return "", err
	}
	password = strings.ToLower(strings.Join([]string{rand.Text()[:5], rand.Text()[:5], rand.Text()[:5], rand.Text()[:5]}, "-"))
	hash, err := d.hashed(password)
	if err != nil {
		return "", err
	}
	return password, d.Store.Tx(func(s store.Records) error {
		p, err := s.PersonByLogin(strings.TrimSpace(login))
		if errors.Is(err, store.ErrNotFound) || err == nil && (!p.Keeper || p.Away) {
			return access.Refuse(access.Missing, fmt.Sprintf("No keeper signs in as %q.", login), "Give the sign-in name of a keeper.")
		}
		if err != nil {
			return err
		}
		p.Password, p.Second, p.SecondUsed, p.SecondSpare = hash, "", 0, nil
		p.Epoch++
		if err := errors.Join(s.SavePerson(&p), s.DropPasskey(p.ID, 0), d.endAll(s, p)); err != nil {
			return err
		}
		return d.Trace(s, "", "Gave %s a new password on the machine itself", p.Name)
	})
}

// Account is what a keeper says of a person.
type Account struct {
	ID       uint // 0 for a new one
	Name     string
	Login    string
	Password string // empty leaves it as it is; of a new one, there is none until an invitation is followed
	Keeper   bool
	Away     bool
	Roles    map[string]access.Role
}

// SaveAccount makes or changes an account. The last keeper stays one.
func (d *Desk) SaveAccount(a Account) (uint, error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	hash := ""
	if a.Password != "" {
		var err error
		if hash, err = d.hashed(a.Password); err != nil {
			return 0, err
		}
	}
	var id uint
	err := d.Store.Tx(func(s store.Records) error {
		p := store.Person{CreatedAt: d.Now()}
		if a.ID != 0 {
			var err error
			if p, err = s.Person(a.ID); err != nil {
				return access.NotFound(err, "That person")
			}
		} else if err := d.RoomForPerson(s); err != nil {
			return err
		}
		p.Name, p.Login, p.Keeper, p.Roles = words.VisibleLine(a.Name, access.MostName), strings.TrimSpace(a.Login), a.Keeper, nil
		if err := checkAccount(p, a.Password, false); err != nil {
			return err
		}
		if hash != "" || a.Away != p.Away {
			p.Epoch++ // whoever is signed in must sign in again
			if err := d.endAll(s, p); err != nil {
				return err
			}
		}
		if p.Away = a.Away; p.Away {
			p.Invitation, p.InvitedUntil = "", time.Time{}
		}
		if hash != "" {
			p.Password = hash
		}
		for _, section := range d.Rules().Sections {
			switch r := a.Roles[section.Code]; r {
			case access.Contributor, access.Publisher:
				p.Roles = append(p.Roles, store.Role{Section: section.Code, Role: string(r)})
			case "":
			default:
				return access.Refuse(access.Bad, fmt.Sprintf("There is no role %q.", r), "Choose contributor or publisher.")
			}
		}
		if err := s.SavePerson(&p); err != nil {
			if errors.Is(err, store.ErrTaken) {
				return access.Because(access.Clash, fmt.Sprintf("%s is taken as a sign-in name.", p.Login), "Choose another one.", err)
			}
			return err
		}
		if err := oneKeeperLeft(s); err != nil {
			return err
		}
		id = p.ID
		return d.Trace(s, "", "Set the account of %s: %s", p.Name, rolesInWords(access.PersonOf(p), p.Away))
	})
	if err == nil {
		d.Rooms.NotifyAll()
	}
	return id, err
}

func oneKeeperLeft(s store.Records) error {
	all, err := s.People()
	if err != nil {
		return err
	}
	if slices.ContainsFunc(all, func(p store.Person) bool { return p.Keeper && !p.Away }) {
		return nil
	}
	return access.Refuse(access.Clash, "The house would be left without a keeper.", "Make somebody else a keeper first.")
}

func rolesInWords(p access.Person, away bool) string {
	if away {
		return "may no longer sign in"
	}
	var parts []string
	if p.Keeper {
		parts = append(parts, "keeper")
	}
	for _, section := range SortedKeys(p.Roles) {
		parts = append(parts, fmt.Sprintf("%s of %s", p.Roles[section], section))
	}
	if len(parts) == 0 {
		return "can only look"
	}
	return strings.Join(parts, ", ")
}

// SortedKeys is never nil: no roles must not be read as no limit.
func SortedKeys[V any](m map[string]V) []string {
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
		return access.Refuse(access.Bad, "An account needs a name.", "Enter it as other people know it.")
	case !access.IsLogin(p.Login):
		return access.Refuse(access.Bad, "A sign-in name has 2 to 60 letters, digits or . _ @ + -.", "An e-mail address will do.")
	case isNew && password == "" || password != "" && utf8.RuneCountInString(password) < shortest:
		return access.Refuse(access.Bad, fmt.Sprintf("A password has at least %d characters.", shortest), "Four words in a row are easy to remember.")
	case strings.EqualFold(password, p.Login) && password != "":
		return access.Refuse(access.Bad, "The password is the same as the sign-in name.", "Four words in a row are easy to remember.")
	}
	return nil
}

// SetOwnPassword changes the password of whoever is at the desk; all of their
// other sessions end.
func (d *Desk) SetOwnPassword(old, fresh string) (access.Person, error) {
	if err := d.MayLook(); err != nil {
		return access.Person{}, err
	}
	p, err := d.Store.Person(d.Person.ID)
	if err != nil {
		return access.Person{}, access.NotFound(err, "Your account")
	}
	if p.Password == "" && p.Subject != "" {
		return access.Person{}, access.Refuse(access.Clash, "Your account has no password here.", "It is kept where you sign in.")
	}
	if p.Password == "" {
		return access.Person{}, access.Refuse(access.Clash, "People of the demo have no password.", "They sign in with one click.")
	}
	right, err := d.guess(p.Login, "the own account")
	if err != nil {
		return access.Person{}, err
	}
	match, err := d.matches(old, p.Password)
	if err != nil {
		return access.Person{}, err
	}
	if !match {
		return access.Person{}, cmp.Or(d.Trace(d.Store, "", "Changing the own password failed: the old one was another"), error(access.Refuse(access.Bad, "The old password is wrong.", "Nothing was changed.")))
	}
	right()
	if err := checkAccount(p, fresh, true); err != nil {
		return access.Person{}, err
	}
	if p.Password, err = d.hashed(fresh); err != nil {
		return access.Person{}, err
	}
	return d.newEpoch(p, "Changed the own password")
}

// SignOutEverywhere ends all sessions of whoever is at the desk.
func (d *Desk) SignOutEverywhere() error {
	if err := d.MayLook(); err != nil {
		return err
	}
	p, err := d.Store.Person(d.Person.ID)
	if err != nil {
		return access.NotFound(err, "Your account")
	}
	_, err = d.newEpoch(p, "Signed out everywhere")
	return err
}

func (d *Desk) newEpoch(p store.Person, what string) (access.Person, error) {
	p.Epoch++
	err := d.Store.Tx(func(s store.Records) error {
		if err := errors.Join(s.SavePerson(&p), d.endAll(s, p)); err != nil {
			return err
		}
		return d.Trace(s, "", "%s", what)
	})
	d.Rooms.NotifyAll()
	return access.PersonOf(p), err
}

// People returns all people, for those who keep the house.
func (d *Desk) People() ([]store.Person, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	return d.Store.People()
}

// Trail returns who did what, newest first, for those who keep the house.
func (d *Desk) Trail(f store.TrailFilter) ([]store.Trace, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	return d.Store.Trail(f)
}

// SectionPeople returns the names of those who work for a section.
func (d *Desk) SectionPeople(section string) ([]access.Person, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	all, err := d.Store.People()
	var own []access.Person
	for _, p := range all {
		if who := access.PersonOf(p); who.Roles[section] != "" && !p.Away {
			own = append(own, who)
		}
	}
	return own, err
}

// Ended reports whether the session of whoever is at the desk has been ended meanwhile, or
// their account: they hear nothing more.
func (d *Desk) Ended() (bool, error) {
	if d.Person.ID == 0 {
		return false, nil
	}
	_, there, err := d.Continues(d.Person.ID, d.Person.Epoch(), d.Person.Session())
	return !there, err
}
