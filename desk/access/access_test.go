package access_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// What each role may do in its section, and in others.
func TestWhatRolesMayDo(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	person := func(login string, keeper bool, roles ...store.Role) access.Person {
		p := store.Person{Name: login, Login: login, Keeper: keeper, Roles: roles}
		require.NoError(t, b.Kept.SavePerson(&p))
		return access.PersonOf(p)
	}
	contributor := person("odo", false, store.Role{Section: "juniors", Role: string(access.Contributor)})
	publisher := person("ines", false, store.Role{Section: "juniors", Role: string(access.Publisher)})
	keeper := person("varrow", true)
	none := person("pell", false)
	for name, c := range map[string]struct {
		who                        access.Person
		work, publish, other, keep bool
	}{
		"contributor":   {contributor, true, false, false, false},
		"publisher":     {publisher, true, true, false, false},
		"keeper":        {keeper, true, true, true, true},
		"with no role":  {none, false, false, false, false},
		"nobody at all": {access.Person{}, false, false, false, false},
	} {
		seat := b.Seat.As(c.who)
		may := func(err error) bool {
			if err != nil {
				var r *access.Refusal
				require.ErrorAs(t, err, &r, name)
				assert.NotEmpty(t, r.What, name)
				assert.NotEmpty(t, r.Next, name)
			}
			return err == nil
		}
		assert.Equal(t, c.work, may(seat.MayWork("juniors")), "%s works", name)
		assert.Equal(t, c.publish, may(seat.MayPublish("juniors")), "%s publishes", name)
		assert.Equal(t, c.other, may(seat.MayWork("touring")), "%s works elsewhere", name)
		assert.Equal(t, c.keep, may(seat.MayKeep()), "%s keeps the house", name)
		assert.Equal(t, c.who.Known(), may(seat.MayLook()), "%s looks", name)
	}
}

// What was used longest ago makes room, and what is asked for counts as used.
func TestRecent(t *testing.T) {
	r := access.NewRecent[int](2)
	r.Put("a", 1)
	r.Put("b", 2)
	r.Put("b", 3)
	_, ok := r.Get("a")
	assert.True(t, ok)
	r.Put("c", 4)
	_, ok = r.Get("b")
	assert.False(t, ok, "a was asked for since")
	v, ok := r.Get("a")
	assert.True(t, ok)
	assert.Equal(t, 1, v)
	r.Forget("a")
	r.Forget("never there")
	_, ok = r.Get("a")
	assert.False(t, ok)
}

func TestTexts(t *testing.T) {
	assert.Equal(t, "The page has no block a.", access.Sentence(errors.New("the page has no block a")))
	assert.Equal(t, []string{"1 picture", "0 pictures", "2 pictures"}, []string{access.Count(1, "picture"), access.Count(0, "picture"), access.Count(2, "picture")})
	assert.Equal(t, []string{"a", "b"}, access.AddOnce(access.AddOnce([]string{"a"}, "b"), "a"))
	assert.Equal(t, "juniors-boat", access.NameOr(store.Picture{OriginalName: "a.jpg", Work: store.Work{Name: "juniors-boat"}}))
	assert.Equal(t, "a.jpg", access.NameOr(store.Picture{OriginalName: "a.jpg"}))
	cause := errors.New("the disk is full")
	assert.ErrorIs(t, access.Because(access.Bad, "It was not kept.", "Make room.", cause), cause)
}
