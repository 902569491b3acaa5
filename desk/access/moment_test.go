package access_test

import (
	"errors"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// away is a program that cannot ask the others' clock.
type away struct{ *desktest.Fellow }

func (away) Moment() (int64, error) { return 0, errors.New("the database is away") }

// What is read is counted by one clock, whatever the clocks of the machines say that show it.
func TestMomentsOfSeveralPrograms(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	line := &desktest.Line{}
	house := func(fellows store.Fellows) *access.House {
		kept := b.Kept.Store
		kept.Fellows = fellows
		h, err := access.NewHouse(&kept, time.Now, "", rules.Given{})
		require.NoError(t, err)
		return h
	}
	programs := []*access.House{house(line.Join("a")), house(line.Join("b")), house(line.Join("c"))}
	var all []int64
	for range 5 {
		for _, h := range programs {
			all = append(all, h.Moment())
		}
	}
	assert.True(t, slices.IsSorted(all), "%v", all)
	assert.Less(t, all[14], int64(100), "by the clock of the line, and not by that of the machine")

	alone, cut := house(nil), house(away{line.Join("d")})
	for _, h := range []*access.House{alone, cut} {
		before := time.Now().UnixMicro()
		first, second := h.Moment(), h.Moment()
		assert.LessOrEqual(t, before, first)
		assert.Less(t, first, second)
	}
}
