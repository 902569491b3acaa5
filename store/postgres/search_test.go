package postgres_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store"
)

// alphabets are what words are made of: letters that have capitals, accents of their own or added to them, and none.
var alphabets = []string{"abcdefghij", "àéîõüčğøñśž", "aeiou\u0301\u0308n\u0303", "αβγδάέήίόύώ", "абвгдёйжщ", "湖水舟艇", "0123456789", "ßæœłđħ"}

// Both databases find the same pictures by the same words, whatever their script, case and accents, each by its own index of
// words.
func TestBothDatabasesFindTheSame(t *testing.T) {
	t.Parallel()
	here, there := openBoth(t, servertest.NewPostgres(t))
	random := rand.New(rand.NewPCG(3, 3))
	word := func() string {
		letters := []rune(alphabets[random.IntN(len(alphabets))])
		var b strings.Builder
		for range 2 + random.IntN(5) {
			b.WriteRune(letters[random.IntN(len(letters))])
		}
		if random.IntN(3) == 0 {
			return strings.ToUpper(b.String())
		}
		return b.String()
	}
	between := []string{" ", "-", "_", ", ", ".", "'", "/", "\u00a0", "—"}
	var words []string
	for i := range 150 {
		var alt strings.Builder
		for range 6 {
			w := word()
			words = append(words, w)
			alt.WriteString(w + between[random.IntN(len(between))])
		}
		for _, s := range []store.Records{here, there} {
			p := store.Picture{Section: "juniors", OriginalHash: fmt.Sprint(i), OriginalName: fmt.Sprintf("DSC_%d.JPG", i), Station: store.Shelf, Work: store.Work{Name: fmt.Sprint("juniors-", i), Alt: alt.String()}, CreatedAt: time.Now(), UpdatedAt: time.Now()}
			require.NoError(t, s.AddPicture(&p))
		}
	}
	found := func(s store.Records, text string) (all []uint) {
		ps, n, err := s.Shelf(store.ShelfQuery{Text: text, Sort: store.ByName, Most: 1000, Now: time.Now()})
		require.NoError(t, err, "%q", text)
		assert.EqualValues(t, len(ps), n)
		for _, p := range ps {
			all = append(all, p.ID)
		}
		return all
	}
	some := 0
	for n := range 500 {
		w := []rune(words[random.IntN(len(words))])
		text := string(w[:1+random.IntN(len(w))])
		switch n % 5 {
		case 1:
			text = strings.ToUpper(text)
		case 2:
			text = strings.ToLower(text)
		case 3:
			text += " " + words[random.IntN(len(words))]
		case 4:
			text = "DSC_" + fmt.Sprint(n)
		}
		want := found(here, text)
		some += len(want)
		assert.Equal(t, want, found(there, text), "%q", text)
	}
	assert.Greater(t, some, 500, "something was found")
}
