package presence_test

import (
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/presence"
)

// programs are two programs that tell each other at once.
func programs(t *testing.T) (a, b *presence.Rooms, told func() int) {
	t.Helper()
	a, b = &presence.Rooms{}, &presence.Rooms{}
	var mu sync.Mutex
	n := 0
	for from, to := range map[*presence.Rooms]*presence.Rooms{a: b, b: a} {
		name := map[*presence.Rooms]string{a: "a", b: "b"}[from]
		go from.Share(t.Context(), func(room string, there []presence.There) {
			mu.Lock()
			n++
			mu.Unlock()
			to.Heard(name, room, there)
		})
		// It shares from the first moment at which it says so.
		probe := presence.Page(999)
		require.Eventually(t, func() bool { from.Notify(probe); mu.Lock(); defer mu.Unlock(); return n > 0 }, 10*time.Second, time.Millisecond)
		mu.Lock()
		n = 0
		mu.Unlock()
	}
	return a, b, func() int { mu.Lock(); defer mu.Unlock(); return n }
}

// People in one room know of each other, whichever program they came by.
func TestPeopleOfTwoPrograms(t *testing.T) {
	t.Parallel()
	a, b, _ := programs(t)
	room := presence.Page(1)
	ines := a.Enter(room, presence.Member{ID: 1, Name: "Ines"})
	odo := b.Enter(room, presence.Member{ID: 2, Name: "Odo"})
	again := b.Enter(room, presence.Member{ID: 1, Name: "Ines"}) // in another window
	see := func(v *presence.Visit, want ...presence.Other) {
		t.Helper()
		require.EventuallyWithT(t, func(c *assert.CollectT) { assert.Equal(c, want, v.Others()) }, 10*time.Second, time.Millisecond)
	}
	see(ines, presence.Other{Name: "Odo"})
	see(odo, presence.Other{Name: "Ines"})
	b.BeAt(room, 2, "block-a")
	see(ines, presence.Other{Name: "Odo", At: "block-a"})
	assert.ElementsMatch(t, []string{"Ines", "Odo"}, a.In(room))

	quiet(ines)
	b.Notify(room)
	require.Eventually(t, func() bool { return told(ines) }, 10*time.Second, time.Millisecond, "what changed by one program is told by the other")
	quiet(ines)
	b.NotifyAll()
	require.Eventually(t, func() bool { return told(ines) }, 10*time.Second, time.Millisecond)

	again.Leave()
	odo.Leave()
	see(ines, []presence.Other(nil)...)
	odo = b.Enter(room, presence.Member{ID: 2, Name: "Odo"})
	see(ines, presence.Other{Name: "Odo"})
	quiet(ines)
	a.Only([]string{"a"})
	see(ines, []presence.Other(nil)...)
	assert.True(t, told(ines), "a program that was killed takes its people along")
	b.Again()
	see(ines, presence.Other{Name: "Odo"})
	odo.Leave()
}

// quiet takes what news there is.
func quiet(v *presence.Visit) {
	for told(v) {
	}
}
