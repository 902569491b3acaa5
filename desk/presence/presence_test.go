package presence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/desk/presence"
)

// told reports whether there is news, and takes it.
func told(v *presence.Visit) bool {
	select {
	case <-v.News():
		return true
	default:
		return false
	}
}

// Who comes, moves and goes is told to the others in the same room, and to nobody else.
func TestWhoIsThere(t *testing.T) {
	var r presence.Rooms
	here, elsewhere := presence.Page(1), presence.Picture(1)
	ines := r.Enter(here, presence.Member{ID: 1, Name: "Ines"})
	far := r.Enter(elsewhere, presence.Member{ID: 3, Name: "Pell"})
	told(ines)
	told(far)
	odo := r.Enter(here, presence.Member{ID: 2, Name: "Odo"})
	assert.True(t, told(ines))
	assert.False(t, told(far), "a picture and a page of one number are two rooms")
	assert.Equal(t, []presence.Other{{Name: "Odo"}}, ines.Others())
	assert.Equal(t, []presence.Other{{Name: "Ines"}}, odo.Others())
	assert.Empty(t, far.Others())

	r.BeAt(here, 2, "block-a")
	assert.True(t, told(ines))
	assert.Equal(t, []presence.Other{{Name: "Odo", At: "block-a"}}, ines.Others())

	second := r.Enter(here, presence.Member{ID: 2, Name: "Odo"}) // in another window
	assert.Len(t, ines.Others(), 1, "one person in two windows is one")
	assert.Empty(t, presenceOf(second.Others(), "Odo"), "nobody is told of themselves")
	second.Leave()
	told(ines)
	odo.Leave()
	odo.Leave()
	assert.True(t, told(ines))
	assert.Empty(t, ines.Others())
}

func presenceOf(all []presence.Other, name string) (some []presence.Other) {
	for _, o := range all {
		if o.Name == name {
			some = append(some, o)
		}
	}
	return some
}

// News wait until they are taken, and many are taken as one: nobody is kept waiting.
func TestNewsWait(t *testing.T) {
	var r presence.Rooms
	v := r.Enter(presence.Page(1), presence.Member{ID: 1, Name: "Ines"})
	told(v)
	for range 100 {
		r.Notify(presence.Page(1))
	}
	assert.True(t, told(v))
	assert.False(t, told(v))
	r.Notify(presence.Page(2))
	assert.False(t, told(v))
	r.NotifyAll()
	assert.True(t, told(v))
}
