package people

import (
	"bytes"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base32"
	"errors"
	"fmt"
	"image/png"
	"slices"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"
	"github.com/pquerna/otp/totp"

	"mivlet/desk/access"
	"mivlet/store"
)

// A second step asks for a code that a device makes from a secret and the time (RFC 6238): who knows the
// password alone does not get in.

const (
	codeEvery  = 30 // seconds (RFC 6238, 5.2)
	codeDigits = otp.DigitsSix
	codeAside  = 1 // codes before and after the one of now that are taken, too, for clocks that are off
	spareCodes = 8
)

// halfwayLasts is how long somebody may take for the code.
const halfwayLasts = 5 * time.Minute

// halfways are those who have given a password and not yet a code, by ticket; settings are secrets of second steps that are
// being set up, sealed, by person.
const (
	halfways access.Passing = "halfway"
	settings access.Passing = "setting up a second step"
)

// settingLasts is how long somebody may take to set one up.
const settingLasts = time.Hour

// halfway is somebody who has given a password.
type halfway struct {
	Person uint `json:"person"`
	Epoch  int  `json:"epoch"`
}

// NeedsCode is the refusal to let somebody in by the password alone: a code is asked for, with the ticket.
type NeedsCode struct {
	*access.Refusal
	Ticket string
}

// Unwrap returns the refusal.
func (n *NeedsCode) Unwrap() error { return n.Refusal }

func purposeOfSecond(p store.Person) string { return fmt.Sprintf("second step\n%d", p.ID) }

// askForCode notes that somebody has given their password.
func (d *Desk) askForCode(p store.Person) error {
	ticket := rand.Text()
	if err := halfways.Keep(d.Store, ticket, halfway{p.ID, p.Epoch}, d.Now().Add(halfwayLasts)); err != nil {
		return err
	}
	return &NeedsCode{access.Refuse(access.SignIn, "A code is asked for, too.", "Enter the one that your device shows."), ticket}
}

// SecondStep lets somebody in who has given their password and now gives a code, or one of the spare codes.
// Each is taken once. from is where the try comes from.
func (d *Desk) SecondStep(ticket, code, from string) (who access.Person, err error) {
	var h halfway
	known, err := halfways.Kept(d.Store, ticket, d.Now(), &h)
	if err != nil {
		return who, err
	}
	if !known {
		return who, access.Refuse(access.Bad, "The password was given too long ago.", "Sign in again.")
	}
	right, err := d.guess(fmt.Sprintf("second step of %d", h.Person), from)
	if err != nil {
		return who, err
	}
	err = d.Store.Tx(func(s store.Records) error {
		p, err := s.Person(h.Person)
		if err != nil {
			return access.NotFound(err, "Your account")
		}
		if p.Away || p.Epoch != h.Epoch {
			return access.Refuse(access.Bad, "The password was given too long ago.", "Sign in again.")
		}
		how, err := d.takeCode(&p, code)
		if err != nil {
			return err
		}
		if how == "" {
			return errWrongCode
		}
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		who = access.PersonOf(p)
		return d.TraceAs(who, s, "", "Signed in%s", how)
	})
	if errors.Is(err, errWrongCode) {
		return access.Person{}, errors.Join(wrongCode(), d.TraceAs(access.Person{Name: "Nobody signed in"}, d.Store, "", "A second step failed, from %s", from))
	}
	if err != nil {
		return access.Person{}, err
	}
	right()
	return who, halfways.Drop(d.Store, ticket)
}

var errWrongCode = errors.New("the code is wrong")

func wrongCode() error {
	return access.Refuse(access.Bad, "That code is wrong, or was used already.", "Each lasts for half a minute. Wait for the next one.")
}

// takeCode takes a code of a person, once, and tells how; "" where it is none of theirs.
func (d *Desk) takeCode(p *store.Person, code string) (how string, err error) {
	code = strings.Join(strings.FieldsFunc(code, func(r rune) bool { return r == ' ' || r == '-' }), "")
	hash := hashOf(code)
	if i := slices.IndexFunc(p.SecondSpare, func(h string) bool { return subtle.ConstantTimeCompare([]byte(h), []byte(hash)) == 1 }); i >= 0 {
		p.SecondSpare = slices.Delete(slices.Clone(p.SecondSpare), i, i+1)
		return fmt.Sprintf(", with a spare code (%d are left)", len(p.SecondSpare)), nil
	}
	secret, err := d.secondOf(*p)
	if err != nil {
		return "", err
	}
	step, ok := d.stepOf(secret, code)
	if !ok || step <= p.SecondUsed {
		return "", nil
	}
	p.SecondUsed = step
	return ", with a code", nil
}

// stepOf is the number of the code among all that a secret gives, around now.
func (d *Desk) stepOf(secret, code string) (int64, bool) {
	now := d.Now().Unix() / codeEvery
	for step := now - codeAside; step <= now+codeAside; step++ {
		if want, err := hotp.GenerateCodeCustom(secret, uint64(step), hotp.ValidateOpts{Digits: codeDigits, Algorithm: otp.AlgorithmSHA1}); err == nil && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			return step, true
		}
	}
	return 0, false
}

func (d *Desk) secondOf(p store.Person) (string, error) {
	key, err := d.sealer.Sealer()
	if err != nil {
		return "", err
	}
	secret, err := key.Open(p.Second, purposeOfSecond(p))
	if err != nil {
		return "", access.Because(access.Clash, "Your second step cannot be read: it was kept with another key.", "Use a spare code, or ask a keeper of the house.", err)
	}
	return string(secret), nil
}

// Own is the account of whoever is at the desk.
func (d *Desk) Own() (store.Person, error) {
	if err := d.MayLook(); err != nil {
		return store.Person{}, err
	}
	p, err := d.Store.Person(d.Person.ID)
	return p, access.NotFound(err, "Your account")
}

// Setup is what a device needs to make codes.
type Setup struct {
	Secret string // in base 32, to be typed
	QR     []byte // PNG, to be read by the device
}

// BeginSecond makes the secret of a second step for whoever is at the desk. It holds when a code of it
// has been given.
func (d *Desk) BeginSecond() (s Setup, err error) {
	p, err := d.Own()
	if err != nil {
		return s, err
	}
	if p.Password == "" {
		return s, access.Refuse(access.Clash, "Your account has no password here, so there is no second step.", "Set it up where your account is kept.")
	}
	secret, err := d.beingSet(p)
	if err != nil {
		return s, err
	}
	options := totp.GenerateOpts{Issuer: "Mivlet, " + d.Rules().House, AccountName: p.Login, Period: codeEvery, Digits: codeDigits, Algorithm: otp.AlgorithmSHA1}
	if secret != "" {
		if options.Secret, err = unpadded.DecodeString(secret); err != nil {
			return s, err
		}
	}
	key, err := totp.Generate(options)
	if err != nil {
		return s, err
	}
	m, err := key.Image(qrSide, qrSide)
	if err != nil {
		return s, err
	}
	var b bytes.Buffer
	if err := png.Encode(&b, m); err != nil {
		return s, err
	}
	own, err := d.sealer.Sealer()
	if err != nil {
		return s, err
	}
	sealed, err := own.Seal([]byte(key.Secret()), purposeOfSecond(p))
	if err != nil {
		return s, err
	}
	return Setup{key.Secret(), b.Bytes()}, settings.Keep(d.Store, fmt.Sprint(p.ID), sealed, d.Now().Add(settingLasts))
}

// beingSet is the secret of a second step that somebody is setting up; empty for none.
func (d *Desk) beingSet(p store.Person) (string, error) {
	sealed := ""
	if known, err := settings.Kept(d.Store, fmt.Sprint(p.ID), d.Now(), &sealed); err != nil || !known {
		return "", err
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return "", err
	}
	secret, err := key.Open(sealed, purposeOfSecond(p))
	return string(secret), err
}

var unpadded = base32.StdEncoding.WithPadding(base32.NoPadding)

// qrSide is how wide and high a QR code is, in pixels.
const qrSide = 220

// ConfirmSecond has the second step hold from now on, when code is one of it. It returns spare codes, which
// are told this once. All other sessions go on.
func (d *Desk) ConfirmSecond(code string) (spare []string, err error) {
	p, err := d.Own()
	if err != nil {
		return nil, err
	}
	secret, err := d.beingSet(p)
	if err != nil {
		return nil, err
	}
	if secret == "" {
		return nil, access.Refuse(access.Bad, "Setting it up was begun too long ago.", "Begin again.")
	}
	right, err := d.guess(fmt.Sprintf("second step of %d", p.ID), "the own account")
	if err != nil {
		return nil, err
	}
	step, ok := d.stepOf(secret, strings.ReplaceAll(strings.TrimSpace(code), " ", ""))
	if !ok {
		return nil, access.Refuse(access.Bad, "That code is wrong.", "Enter the one that your device shows now. Check that its clock is right.")
	}
	right()
	key, err := d.sealer.Sealer()
	if err != nil {
		return nil, err
	}
	sealed, err := key.Seal([]byte(secret), purposeOfSecond(p))
	if err != nil {
		return nil, err
	}
	var hashes []string
	for range spareCodes {
		one := rand.Text()[:10] // 50 bits
		spare, hashes = append(spare, one[:5]+"-"+one[5:]), append(hashes, hashOf(one))
	}
	err = d.Store.Tx(func(s store.Records) error {
		p, err := s.Person(d.Person.ID)
		if err != nil {
			return access.NotFound(err, "Your account")
		}
		p.Second, p.SecondUsed, p.SecondSpare = sealed, step, hashes
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		if err := settings.Drop(s, fmt.Sprint(p.ID)); err != nil {
			return err
		}
		return d.Trace(s, "", "Set up a second step for signing in")
	})
	return spare, err
}

// DropSecond takes the second step of whoever is at the desk away. It asks for the password: who finds a
// screen that was left open does not take it away.
func (d *Desk) DropSecond(password string) error {
	p, err := d.Own()
	if err != nil {
		return err
	}
	if p.Second == "" {
		return access.Refuse(access.Clash, "There is no second step.", "Nothing was changed.")
	}
	if _, err := d.Confirm(password); err != nil {
		return err
	}
	return d.withoutSecond(p.ID, "Took the own second step for signing in away")
}

// DropSecondOf takes the second step of somebody else away, who has lost what makes the codes. Their
// sessions end. Only keepers do so.
func (d *Desk) DropSecondOf(id uint) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	p, err := d.Store.Person(id)
	if err != nil {
		return access.NotFound(err, "That person")
	}
	return d.withoutSecond(id, "Took the second step for signing in from "+p.Name)
}

func (d *Desk) withoutSecond(id uint, what string) error {
	err := d.Store.Tx(func(s store.Records) error {
		p, err := s.Person(id)
		if err != nil {
			return access.NotFound(err, "That person")
		}
		p.Second, p.SecondUsed, p.SecondSpare = "", 0, nil
		if id != d.Person.ID {
			p.Epoch++
			if err := d.endAll(s, p); err != nil {
				return err
			}
		}
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		return d.Trace(s, "", "%s", what)
	})
	d.Rooms.NotifyAll()
	return err
}
