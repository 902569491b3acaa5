package people

import (
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"github.com/alexedwards/argon2id"
	"golang.org/x/sync/semaphore"

	"mivlet/desk/access"
	"mivlet/store"
)

// passwords checks and makes password hashes, each of which takes 64 MiB and some
// tenths of a second on purpose (argon2id, RFC 9106): a few at once, and no more wait
// for their turn than can be served soon. It makes guessing slow, too.
type passwords struct {
	turns     *semaphore.Weighted
	waiting   atomic.Int32
	byAccount slowdown
	byAddress slowdown
	// Who has signed in from where lately: an address that many share is not closed
	// for them because of one who guesses there.
	known *access.Recent[bool]
}

const (
	checksAtOnce = 2
	mostWaiting  = 32
)

func newPasswords() *passwords {
	return &passwords{turns: semaphore.NewWeighted(checksAtOnce), known: access.NewRecent[bool](4096),
		byAccount: slowdown{free: 3, longest: 5 * time.Minute}, byAddress: slowdown{free: 40, longest: time.Minute}}
}

// turn waits for a turn at hashing.
func (d *Desk) turn() (done func(), err error) {
	p := d.passwords
	if p.waiting.Add(1) > mostWaiting {
		p.waiting.Add(-1)
		return nil, access.Refuse(access.TooSoon, "Too many people are signing in right now.", "Wait a few seconds, then try again.")
	}
	defer p.waiting.Add(-1)
	if err := p.turns.Acquire(d.Context, 1); err != nil {
		return nil, err
	}
	return func() { p.turns.Release(1) }, nil
}

// matches reports whether a password is the one that a hash was made of.
func (d *Desk) matches(password, hash string) (bool, error) {
	done, err := d.turn()
	if err != nil {
		return false, err
	}
	defer done()
	return argon2id.ComparePasswordAndHash(password, hash)
}

// Confirm asks whoever is at the desk for their password again, and returns their account: who finds a
// screen that was left open does not have it.
func (d *Desk) Confirm(password string) (p store.Person, err error) {
	if p, err = d.Own(); err != nil {
		return p, err
	}
	if p.Password == "" {
		return p, access.Refuse(access.Clash, "Your account has no password here.", "Nothing was changed.")
	}
	right, err := d.guess(p.Login, "the own account")
	if err != nil {
		return p, err
	}
	if match, err := d.matches(password, p.Password); err != nil || !match {
		return p, errors.Join(err, access.Refuse(access.Bad, "The password is wrong.", "Nothing was changed."))
	}
	right()
	return p, nil
}

// hashed makes the hash of a password.
func (d *Desk) hashed(password string) (string, error) {
	done, err := d.turn()
	if err != nil {
		return "", err
	}
	defer done()
	return argon2id.CreateHash(password, argon2id.DefaultParams)
}

// guess counts a try at a secret of an account from an address, and refuses it where
// either has to wait. right says that it was no guess.
func (d *Desk) guess(account, from string) (right func(), err error) {
	account = guessed(account)
	p, now := d.passwords, d.Now()
	_, known := p.known.Get(account + "\x00" + from)
	if wait := p.byAddress.wait(now, from); wait > 0 && !known {
		return nil, tooSoon(wait)
	}
	if wait := p.byAccount.begin(now, account); wait > 0 {
		return nil, tooSoon(wait)
	}
	p.byAddress.begin(now, from)
	d.Tell(aboutGuess, guessTold{Account: account, From: from})
	return func() {
		p.right(account, from)
		d.Tell(aboutGuess, guessTold{account, from, true})
	}, nil
}

// right takes back that a try at an account from an address was counted as failed.
func (p *passwords) right(account, from string) {
	p.byAccount.forgive(account, true)
	p.byAddress.forgive(from, false)
	p.known.Put(account+"\x00"+from, true)
}

// aboutGuess is what programs of a house tell each other tries at secrets under: guessing is no faster where
// several answer. What they try before they have heard of each other is counted by each alone.
const aboutGuess = "guess"

// guessed is what an account is counted under: not what was typed, which may be a password in the wrong field and is
// told to other programs.
func guessed(account string) string { return hashOf(account) }

// guessTold is a try that has begun, and counts as failed; or that it was no guess.
type guessTold struct {
	Account string `json:"account"` // as guessed has it
	From    string `json:"from"`
	Right   bool   `json:"right,omitempty"`
}

// hearGuesses counts what is tried elsewhere.
func (d *Desk) hearGuesses() {
	access.Heard(d.House, aboutGuess, func(_ string, of guessTold) {
		p, now := d.passwords, d.Now()
		if of.Right {
			p.right(of.Account, of.From)
			return
		}
		p.byAccount.heard(now, of.Account)
		p.byAddress.heard(now, of.From)
	})
}

func tooSoon(wait time.Duration) error {
	return access.Refuse(access.TooSoon, fmt.Sprintf("Too many attempts have failed. Wait %d seconds.", int(wait/time.Second)+1), "Then try again, or ask a keeper for a new password.")
}

// ErrWrong is the refusal of a sign-in.
func ErrWrong() error {
	return access.Refuse(access.Bad, "The sign-in name or the password is wrong.", "Check both and try again.")
}
