package destinations_test

import (
	"bytes"
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/destinations"
)

// A former site that was mended is sent to where it came from. What lies there as it was brought in is replaced, what
// somebody changed since stays and is told, and nothing goes that was there.
func TestAMendedSiteIsSent(t *testing.T) {
	t.Parallel()
	bothWays(t, func(t *testing.T, a *abroad) {
		site := map[string][]byte{
			"index.html":         []byte(`<title>Camp</title><p>Boats <img src="files/IMG_2041.jpg" width=300 alt="Two red boats"></p><a href="old/day.html">Day</a>`),
			"old/day.html":       []byte(`<title>Day</title><p><img src="../files/IMG_2041.jpg" width=300 alt="Two red boats"></p>`),
			"old/third.html":     []byte(`<title>Third</title><p><img src="../files/IMG_2041.jpg" width=300 alt="Two red boats"></p>`),
			"files/IMG_2041.jpg": desktest.Photo(2400, 1600, 3),
			"files/a: b.txt":     []byte("a name that cannot be sent"),
		}
		for at, data := range site {
			if filepath.Base(at) != "a: b.txt" {
				a.write(at, string(data))
			}
		}
		f, err := a.BringIn.Bring(context.Background(), "camp.zip", bytes.NewReader(desktest.Packed(t, site)), []string{"www.club.example"})
		require.NoError(t, err)
		a.write("old/day.html", "<title>Somebody wrote this since</title>")
		a.write("elsewhere.txt", "not of this site")

		require.NoError(t, a.Destinations.Remove(a.id))
		c := destinations.Change{Title: "The old server", Folder: a.folder, Base: a.server.URL + "/club", FormerSite: f.ID, GraceHours: 1}
		a.id, err = a.Destinations.Save(c)
		require.NoError(t, err)
		_, err = a.Destinations.DryRun(t.Context(), a.id)
		desktest.Refusal(t, err, access.Missing, "has not been mended yet")

		mendIt := func() {
			job, err := a.Former.Mend(f.ID)
			require.NoError(t, err)
			job.Wait()
			require.Empty(t, job.Progress().Failed)
		}
		mendIt()
		work, err := a.Destinations.DryRun(t.Context(), a.id)
		require.NoError(t, err)
		assert.Equal(t, []string{"old/day.html"}, work.Theirs)
		assert.Equal(t, []string{"files/a: b.txt"}, work.Left)
		assert.Empty(t, work.Remove)
		require.NoError(t, a.Destinations.Pause(a.id, false))
		a.send()
		a.whole("when it was sent")
		assert.Contains(t, a.read("index.html"), "srcset=")
		assert.Contains(t, a.read("old/third.html"), "srcset=")
		assert.Equal(t, "<title>Somebody wrote this since</title>", a.read("old/day.html"))
		assert.Equal(t, "not of this site", a.read("elsewhere.txt"))
		v, err := a.Destinations.Of(a.id)
		require.NoError(t, err)
		assert.Equal(t, []any{false, "camp", []string{"old/day.html"}}, []any{v.Due, v.Former, v.Theirs})

		// What is live does not concern it; mended anew, it is sent anew; a picture that is
		// no longer shown goes at once: it may have been covered since.
		a.Place(a.Ready("juniors-boats", 1))
		a.goLive(a.PageID)
		v, err = a.Destinations.Of(a.id)
		require.NoError(t, err)
		assert.False(t, v.Due)
		require.NoError(t, a.Destinations.Overwrite(a.id, v.Theirs))
		require.NoError(t, a.Former.Leave(f.ID, "files/IMG_2041.jpg"))
		mendIt()
		a.send()
		assert.NotContains(t, a.read("index.html"), "srcset=", "the picture stays as it was")
		assert.Contains(t, a.read("old/day.html"), "<title>Day</title>")
		assert.Len(t, a.read("files/IMG_2041.jpg"), len(site["files/IMG_2041.jpg"]))
		a.whole("when it was sent again")
		assert.ElementsMatch(t, []string{"index.html", "old/day.html", "old/third.html", "files/IMG_2041.jpg", "elsewhere.txt"}, a.files())

		desktest.Refusal(t, a.Former.Drop(f.ID, "camp"), access.Clash, "is sent to The old server")
		require.NoError(t, a.Destinations.Remove(a.id))
		require.NoError(t, a.Former.Drop(f.ID, "camp"))
		c.FormerSite = 99
		_, err = a.Destinations.Save(c)
		desktest.Refusal(t, err, access.Missing, "The former site")
	})
}
