package titlecard_test

import (
	"crypto/sha256"
	"fmt"
	"math/rand/v2"
	"runtime"
	"strings"
	"testing"

	"mivlet/core/titlecard"
	"mivlet/internal/pinned"
)

// How titles are broken, and the pixels of some cards, stay as they were: a card that is live is
// not drawn otherwise unnoticed.
func TestCardsByChance(t *testing.T) {
	t.Parallel()
	words := strings.Fields("Autumn on the water, boats in the boatshed; Überfahrt für alle đa nước a I WWWWWWWWWWWWWWWWWWWWWW iiiiiiiiiiiiiiiiiiiiiiiiiiiiiiii regatta 2026 – Kenterübung WWWWWWWWWWWW Kenterübungswochenende")
	title := func(n *rand.Rand, most int) string {
		var all []string
		for range 1 + n.IntN(most) {
			all = append(all, words[n.IntN(len(words))])
		}
		return strings.Join(all, " ")
	}
	pinned.Hold(t, "titles", 140, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 5))
		text := title(n, 30)
		if seed%20 == 0 {
			text = strings.Repeat("W", 20+n.IntN(300)) // one word, longer than the card is wide
		}
		lines, err := titlecard.Lines(text)
		return []any{lines, err}
	})
	if runtime.GOARCH != "amd64" {
		return // letters are drawn with other rounding elsewhere
	}
	pinned.Hold(t, "cards", 12, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 6))
		m, err := titlecard.Draw(titlecard.Card{Title: title(n, 12), House: title(n, 3+int(seed)*2), Ground: deep, Text: white})
		if err != nil {
			return err.Error()
		}
		return fmt.Sprintf("%x", sha256.Sum256(m.Pix))
	})
}
