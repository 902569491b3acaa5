package people_test

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
	"mivlet/store"
)

// Sixty at once do not get past the slowdown: a try is counted before it is checked, and
// only a few are checked at the same time.
func TestManySignInsAtOnce(t *testing.T) {
	now := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Now = func() time.Time { return now } })
	_, err := b.People.FirstKeeper("Ines", "ines", "four words in a row", firstCode(b), "here")
	require.NoError(t, err)
	var wrong, later atomic.Int64
	var wg sync.WaitGroup
	for n := range 60 {
		wg.Go(func() {
			_, err := b.People.SignIn("ines", fmt.Sprint("guess number ", n), fmt.Sprint("address ", n))
			if r, ok := desktest.AsRefusal(err); ok && r.Kind == access.TooSoon {
				later.Add(1)
			} else if ok {
				wrong.Add(1)
			}
		})
	}
	wg.Wait()
	assert.LessOrEqual(t, wrong.Load(), int64(3), "three are free, the others wait")
	assert.Equal(t, int64(60), wrong.Load()+later.Load())
	trail, err := b.People.Trail(store.TrailFilter{Most: 10})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "A sign-in failed: ines, from address")
	assert.Less(t, b.Kept.Database().OpenConnections(), 16, "however many ask, a few read and one writes")

	// The same on changing a password.
	now = now.Add(time.Hour)
	who, err := b.People.SignIn("ines", "four words in a row", "here")
	require.NoError(t, err)
	refused := 0
	for range 10 {
		_, err := b.As(who).People.SetOwnPassword("a guess", "four other words in a row")
		if r, ok := desktest.AsRefusal(err); ok && r.Kind == access.TooSoon {
			refused++
		}
	}
	assert.Greater(t, refused, 3)
}

// An address that a whole school shares is not closed because one person guesses there.
func TestASharedAddressStaysOpen(t *testing.T) {
	b := desktest.Fresh(t)
	keeper, err := b.People.FirstKeeper("Ines", "ines", "four words in a row", firstCode(b), "school")
	require.NoError(t, err)
	_, err = b.As(keeper).People.SaveAccount(people.Account{Name: "Odo", Login: "odo", Password: "a paddle on the lake"})
	require.NoError(t, err)
	for range 200 { // one guesses on, at one account
		_, _ = b.People.SignIn("ines", "a guess", "school")
	}
	_, err = b.People.SignIn("odo", "a paddle on the lake", "school")
	require.NoError(t, err)
	for n := range 45 { // and then at many, more than an address may in a row
		_, _ = b.People.SignIn(fmt.Sprint("nobody", n), "a guess", "school")
	}
	_, err = b.People.SignIn("somebody", "a guess", "school")
	desktest.Refusal(t, err, access.TooSoon, "Wait")
	_, err = b.People.SignIn("odo", "a paddle on the lake", "school")
	assert.NoError(t, err, "who has signed in from there goes on to")
}

// Where several programs answer for one house, what is guessed at one counts at the others: guessing is no
// faster for asking each in turn. Who signs in with the right password at one is free at all.
func TestGuessesAtOneProgramCountAtTheOthers(t *testing.T) {
	t.Parallel()
	var clock atomic.Int64
	now := func() time.Time { return time.Unix(1_800_000_000+clock.Load(), 0) }
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Now = now })
	_, err := b.People.FirstKeeper("Ines", "ines", "four words in a row", firstCode(b), "here")
	require.NoError(t, err)
	line := &desktest.Line{}
	var programs []*desk.Desk
	for _, name := range []string{"a", "b", "c"} {
		d := b.Among(t, line.Join(name), func(o *desk.Options) { o.Now = now })
		ctx, end := context.WithCancel(t.Context())
		ended := make(chan struct{})
		go func() { defer close(ended); d.Listen(ctx) }()
		t.Cleanup(func() { end(); <-ended })
		programs = append(programs, d)
	}
	tooSoon := func(d *desk.Desk, from string) bool {
		_, err := d.People.SignIn("ines", "a guess", from)
		r, ok := desktest.AsRefusal(err)
		require.True(t, ok, "%v", err)
		return r.Kind == access.TooSoon
	}

	// For twenty minutes somebody guesses at each in turn, from another address each time, as soon as anybody answers.
	tried := 0
	for end := clock.Load() + 1200; clock.Load() < end; {
		for n, d := range programs {
			if tooSoon(d, fmt.Sprint("address ", tried)) {
				continue
			}
			tried++
			for _, other := range programs { // which have heard of it
				require.Eventually(t, func() bool { return people.Failures(other.People, "ines") == people.Failures(d.People, "ines") }, 10*time.Second, time.Millisecond, "program %d", n)
			}
		}
		clock.Add(1)
	}
	// Three at once, then waits of 1, 2, 4 … 256 and 300 seconds: 511 s for nine, and one each 300 s from then on.
	assert.LessOrEqual(t, tried, 3+9+3)
	assert.Greater(t, tried, 9, "it is slow, and not closed")

	clock.Add(400)
	_, err = programs[1].People.SignIn("ines", "four words in a row", "here")
	require.NoError(t, err)
	for _, d := range programs {
		require.Eventually(t, func() bool { return people.Failures(d.People, "ines") == 0 }, 10*time.Second, time.Millisecond)
	}
}

// listener hears what a program tells the others.
type listener struct {
	*desktest.Fellow
	told *[]string
}

func (l listener) Tell(text string) error {
	*l.told = append(*l.told, text)
	return l.Fellow.Tell(text)
}

// What is typed as a name may be a password in the wrong field: it is told to nobody, however long it is.
func TestWhatIsTypedIsNotTold(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	var told []string
	d := b.Among(t, listener{(&desktest.Line{}).Join("a"), &told}, func(*desk.Options) {})
	for _, typed := range []string{"four words in a row", strings.Repeat("x", 20_000)} {
		_, err := d.People.SignIn(typed, "", "here")
		require.Error(t, err)
	}
	require.Len(t, told, 2)
	for _, text := range told {
		assert.NotContains(t, text, "words")
		assert.Less(t, len(text), store.MostTold)
	}
}
