package people

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"mivlet/desk/access"
	"mivlet/store"
)

// invitedFor is how long an invitation can be followed.
const invitedFor = 7 * 24 * time.Hour

// Invite makes an invitation for a person who has an account, and returns its code, which is told
// this once: what is kept is a hash of it. Whoever follows it chooses a password. Another one
// ends the one before; the password that there is holds until then. Only keepers invite.
func (d *Desk) Invite(id uint) (code string, until time.Time, err error) {
	if err := d.MayKeep(); err != nil {
		return "", until, err
	}
	code, until = rand.Text(), d.Now().Add(invitedFor) // 130 bits
	return code, until, d.Store.Tx(func(s store.Records) error {
		p, err := s.Person(id)
		if err != nil {
			return access.NotFound(err, "That person")
		}
		if p.Away {
			return access.Refuse(access.Clash, fmt.Sprintf("%s may no longer sign in.", p.Name), "Untick that first, and save the account.")
		}
		p.Invitation, p.InvitedUntil = hashOf(code), until
		if err := s.SavePerson(&p); err != nil {
			return err
		}
		return d.Trace(s, "", "Invited %s by link", p.Name)
	})
}

// Invited returns who an invitation is for. from is where the try comes from.
func (d *Desk) Invited(code, from string) (access.Person, error) {
	p, err := d.invited(d.Store, code, from)
	return access.PersonOf(p), err
}

// Join sets the password that somebody chose who followed an invitation, and ends the invitation
// and all earlier sessions. from is where the try comes from.
func (d *Desk) Join(code, password, from string) (who access.Person, err error) {
	p, err := d.invited(d.Store, code, from)
	if err != nil {
		return who, err
	}
	if err := checkAccount(p, password, true); err != nil {
		return who, err
	}
	hash, err := d.hashed(password)
	if err != nil {
		return who, err
	}
	err = d.Store.Tx(func(s store.Records) error {
		// It may have been followed, or withdrawn, while the password was hashed.
		if p, err = d.open(s, code); err != nil {
			return err
		}
		p.Password, p.Invitation, p.InvitedUntil = hash, "", time.Time{}
		p.Epoch++
		if err := errors.Join(s.SavePerson(&p), d.endAll(s, p)); err != nil {
			return err
		}
		who = access.PersonOf(p)
		return d.TraceAs(who, s, "", "Chose a password, following an invitation")
	})
	return who, err
}

// invited is open, where tries are counted.
func (d *Desk) invited(s store.Records, code, from string) (store.Person, error) {
	right, err := d.guess("invitation from "+from, from)
	if err != nil {
		return store.Person{}, err
	}
	p, err := d.open(s, code)
	if err == nil {
		right()
	}
	return p, err
}

// open returns the person whose open invitation a code is.
func (d *Desk) open(s store.Records, code string) (store.Person, error) {
	p, err := s.PersonByInvitation(hashOf(code))
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return p, err
	}
	if err != nil || p.Away || !d.Now().Before(p.InvitedUntil) {
		return store.Person{}, access.Refuse(access.Missing, "This invitation has been used, or has ended.", "Ask a keeper of the house for another one.")
	}
	return p, nil
}

func hashOf(code string) string {
	sum := sha256.Sum256([]byte(strings.ToUpper(strings.TrimSpace(code))))
	return hex.EncodeToString(sum[:])
}
