package withdraw_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/desktest"
	"mivlet/desk/withdraw"
)

// A picture is found wherever it may stand on a page, also on one that was never live, and
// leaves a page that still opens.
func TestWhatIsErasedIsFoundWhereverItStands(t *testing.T) {
	t.Parallel()
	for name, stand := range map[string]func(b *desktest.Fixture, picture uint) error{
		"on the page": func(b *desktest.Fixture, picture uint) error {
			b.Place(picture)
			return nil
		},
		"behind a band": func(b *desktest.Fixture, picture uint) error {
			band, err := b.Pages.AddBlock(b.PageID, page.Gap{}, page.Band, "wide", "")
			if err != nil {
				return err
			}
			at, _ := b.PageView().Doc.Block(band)
			return b.Backgrounds.Set(b.PageID, band, at.Mark(), &page.Background{Cover: page.Cover{Picture: picture}, Height: page.UsualHeight})
		},
		"in lists": func(b *desktest.Fixture, picture uint) error { return b.Covers.Set(b.PageID, "", picture) },
		"where it is shared": func(b *desktest.Fixture, picture uint) error {
			return b.Covers.SetLink(b.PageID, "", picture)
		},
		"behind a title card": func(b *desktest.Fixture, picture uint) error {
			return b.Covers.SetCard(b.PageID, "", &page.TitleCard{Behind: &page.Cover{Picture: picture}})
		},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			b := desktest.Fresh(t)
			picture := b.Ready("juniors-boat", 1)
			require.NoError(t, stand(b, picture))
			require.Equal(t, []uint{picture}, b.PageView().Doc.Pictures())
			_, err := b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it"})
			require.NoError(t, err)
			assert.Empty(t, b.PageView().Doc.Pictures())
			b.IsWhole()
		})
	}
}
