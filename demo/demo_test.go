package demo_test

import (
	"bytes"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/naming"
	"mivlet/core/words"
	"mivlet/demo"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// The pictures carry what real files carry.
func TestThePicturesAreAsTheScenarioWantsThem(t *testing.T) {
	t.Parallel()
	files, err := os.ReadDir("pictures")
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(files), 14)
	var total int64
	count := map[string]int{}
	for _, f := range files {
		data, err := demo.Picture(f.Name())
		require.NoError(t, err)
		total += int64(len(data))
		assert.LessOrEqual(t, len(data), 4_194_304, f.Name())
		k, err := facts.Read(bytes.NewReader(data))
		require.NoError(t, err, f.Name())
		size := k.Upright()
		for what, is := range map[string]bool{
			"large": size.W*size.H >= 12_000_000 && size.W*size.H <= 24_000_000, "upright": size.H > size.W, "on its side": k.Orientation.OnSide(),
			"position": k.Position, "thumbnail": k.Thumbnail, "date": !k.Taken.IsZero(), "credit": k.Credit != "", "moves": k.Frames >= 12,
			"PNG": k.MediaType == "image/png", "camera's name": naming.FromCamera(f.Name()),
		} {
			if is {
				count[what]++
			}
		}
	}
	assert.LessOrEqual(t, total, int64(45_000_000))
	for what, least := range map[string]int{"large": 4, "upright": 3, "on its side": 2, "position": 4, "thumbnail": 4, "date": 10, "credit": 4, "moves": 1, "PNG": 3, "camera's name": 10} {
		assert.GreaterOrEqual(t, count[what], least, what)
	}
}

func TestTheScenarioFollowsItsOwnRules(t *testing.T) {
	t.Parallel()
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	live, err := demo.Fill(&s.Store, time.Now())
	require.NoError(t, err)
	assert.NotEmpty(t, live)
	placed, err := s.PicturesAt(store.Shelf)
	require.NoError(t, err)
	assert.NotEmpty(t, placed)
	for _, p := range placed {
		assert.Empty(t, demo.Rules().Naming.Check(p.Name, naming.Clues{Section: p.Section}), p.Name)
		assert.Empty(t, words.Check(words.Said{Alt: p.Work.Alt}), p.Work.Alt)
	}
	pages, err := s.Pages()
	require.NoError(t, err)
	for _, p := range pages {
		for _, id := range p.Doc.Pictures() {
			pic, err := s.Picture(id)
			require.NoError(t, err)
			if p.Section == "" {
				continue // a page of the house shows pictures of all
			}
			assert.Equal(t, p.Section, pic.Section, "%s stands on a page of another section", pic.Name)
		}
	}
}

// Numbers that ring nobody (Ofcom numbers for drama, memory; RFC 2606).
func TestNobodyIsRung(t *testing.T) {
	t.Parallel()
	for _, scene := range []string{"scenes/notice-board.pov", "scenes/rota.html"} {
		data, err := os.ReadFile(scene)
		require.NoError(t, err)
		text := string(data)
		for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == '<' || r == '>' || r == '"' }) {
			if strings.HasPrefix(part, "0") && len(part) == 12 && strings.Contains(part, " ") {
				assert.True(t, strings.HasPrefix(part, "01632 960") || strings.HasPrefix(part, "07700 900"), part)
			}
			if strings.Contains(part, "@") && !strings.Contains(part, " ") {
				assert.True(t, strings.HasSuffix(part, ".example"), part)
			}
		}
	}
}
