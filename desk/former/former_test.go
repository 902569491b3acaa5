package former_test

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/mend"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// pageText is a page of a club, in the encoding of its time.
const pageText = "<html><head><meta charset=windows-1252><title>Summer camp</title></head><body><p>Zo\xeb at the pier <img src=\"files/IMG_2041.jpg\" width=300></p>" +
	"<p><a href=next.html><img src=\"files/IMG_2042.jpg\" width=300 height=200></a><img src=\"files/IMG_2041.jpg\" width=300></p></body></html>"

func site() map[string][]byte {
	return map[string][]byte{
		"index.html":         []byte(pageText),
		"next.html":          []byte(`<title>Camp, second day</title><p>Boats <img src="files/IMG_2041.jpg" alt="IMG_2041.jpg" width="300"></p>`),
		"files/IMG_2041.jpg": desktest.Photo(2400, 1600, 3),
		"files/IMG_2042.jpg": desktest.Photo(1200, 800, 5),
	}
}

// packed is an archive of files, in the folder that a server serves them from.
func packed(t *testing.T, files map[string][]byte) []byte {
	t.Helper()
	within := map[string][]byte{}
	for at, data := range files {
		within["public_html/"+at] = data
	}
	return desktest.Packed(t, within)
}

// brought is a house with a former site, and an editor who helps.
func brought(t *testing.T, with ...func(*desk.Options)) (*desktest.Fixture, *desk.Desk, uint) {
	t.Helper()
	b := desktest.FreshWith(t, func(o *desk.Options) {
		for _, set := range with {
			set(o)
		}
	})
	f, err := b.BringIn.Bring(context.Background(), `C:\sites\camp.zip`, bytes.NewReader(packed(t, site())), []string{"www.club.example"})
	require.NoError(t, err)
	assert.Equal(t, "camp", f.Title)
	return b, b.As(access.PersonOf(store.Person{ID: 7, Name: "Runa", Login: "runa", Roles: []store.Role{{Section: "juniors", Role: string(access.Contributor)}}})), f.ID
}

// From a folder of old pages to the mended site: an editor describes one picture after the other, names them,
// and a keeper mends. What was brought in stays as it was.
func TestAFormerSiteIsMended(t *testing.T) {
	t.Parallel()
	b, runa, id := brought(t)
	v, err := runa.Former.Of(id)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 2, 3, 2}, []int{v.Sum.Pages, v.Sum.Pictures, v.ToWrite, v.ToName})

	_, spot, ok, err := runa.Former.Next(id, mend.Spot{})
	require.NoError(t, err)
	require.True(t, ok)
	assert.Equal(t, []any{"index.html", "files/IMG_2041.jpg", "Summer camp", "Zoë at the pier", 1, 3}, []any{spot.Page, spot.Address, spot.Title, spot.Near, spot.Also, spot.Left})
	n, err := runa.Former.Describe(id, mend.Spot{Page: spot.Page, Address: spot.Address}, "  Zoë jumps from\n the pier ", true)
	require.NoError(t, err)
	assert.Equal(t, 2, n, "on the other page, too")
	_, link, ok, err := runa.Former.Next(id, mend.Spot{Page: spot.Page, Address: spot.Address})
	require.NoError(t, err)
	require.True(t, ok)
	assert.Equal(t, []any{"files/IMG_2042.jpg", "next.html", 1}, []any{link.Address, link.LinksTo, link.Left})
	_, err = runa.Former.Describe(id, mend.Spot{Page: "index.html", Address: link.Address}, "", false)
	desktest.Refusal(t, err, access.Bad, "nothing else says where it leads")
	_, err = runa.Former.Describe(id, mend.Spot{Page: "index.html", Address: link.Address}, "To the second day", false)
	require.NoError(t, err)
	_, _, ok, err = runa.Former.Next(id, mend.Spot{})
	require.NoError(t, err)
	assert.False(t, ok, "all are described")

	_, names, err := runa.Former.Names(id)
	require.NoError(t, err)
	require.Len(t, names, 2)
	assert.Equal(t, []string{"zoe-jumps-from-the-pier", "to-the-second-day"}, []string{names[0].Proposed, names[1].Proposed})
	require.NoError(t, runa.Former.Rename(id, map[string]string{names[0].File: names[0].Proposed}))

	_, err = runa.Former.Mend(id)
	desktest.Refusal(t, err, access.Forbidden, "keeper")
	job, err := b.Former.Mend(id)
	require.NoError(t, err)
	job.Wait()
	require.Empty(t, job.Progress().Failed)
	assert.Equal(t, 4, job.Progress().Done)
	v, err = b.Former.Of(id)
	require.NoError(t, err)
	assert.Empty(t, v.Stayed)
	assert.Less(t, v.MendedSum.PerPage, v.Sum.PerPage/2)
	assert.Zero(t, v.MendedSum.Undescribed)
	assert.False(t, v.Changed)

	page := desktest.ReadFormer(t, runa, id, true, "index.html")
	assert.Contains(t, page, "Zo\xeb at the pier <img src=\"files/zoe-jumps-from-the-pier.jpg\" width=300 alt=\"Zo\xeb jumps from the pier\" srcset=")
	assert.Equal(t, desktest.ReadFormer(t, runa, id, true, "files/IMG_2041.jpg"), desktest.ReadFormer(t, runa, id, true, "files/zoe-jumps-from-the-pier.jpg"), "the old address leads on")
	assert.Equal(t, pageText, desktest.ReadFormer(t, runa, id, false, ""))
	file, name, err := runa.Former.Take(id)
	require.NoError(t, err)
	defer file.Close()
	assert.Equal(t, "camp-mended.zip", name)
	_, err = zip.NewReader(file, file.Size())
	require.NoError(t, err)
}

// Each decision can be taken back; a picture that somebody left stays as it is.
func TestDecisionsAreTakenBack(t *testing.T) {
	t.Parallel()
	b, runa, id := brought(t)
	require.NoError(t, runa.Former.Leave(id, "files/IMG_2041.jpg"))
	_, plan, err := runa.Former.Changes(id)
	require.NoError(t, err)
	for _, p := range plan.Pages {
		for _, c := range p.Changes {
			assert.NotEqual(t, "files/IMG_2041.jpg", c.Picture)
		}
	}
	v, err := runa.Former.Of(id)
	require.NoError(t, err)
	require.Len(t, v.Choices, 1)
	require.NoError(t, b.Former.TakeBack(id, v.Choices[0].ID))
	_, plan, err = runa.Former.Changes(id)
	require.NoError(t, err)
	assert.Equal(t, 4, plan.Changes())
	desktest.Refusal(t, runa.Former.Leave(id, "files/none.jpg"), access.Missing, "no \"files/none.jpg\"")
	_, err = runa.Former.Describe(id, mend.Spot{Page: "index.html", Address: "other.jpg"}, "x", false)
	desktest.Refusal(t, err, access.Missing, "not on that page")
	_, err = runa.Former.Describe(id, mend.Spot{Page: "index.html", Address: "files/IMG_2041.jpg"}, strings.Repeat("x", 1001), false)
	desktest.Refusal(t, err, access.Bad, "more than 1000")
}

// Names are given all or none, and never one that is taken.
func TestNamesOfAFormerSite(t *testing.T) {
	t.Parallel()
	_, runa, id := brought(t)
	one, two := "files/IMG_2041.jpg", "files/IMG_2042.jpg"
	for says, names := range map[string]map[string]string{
		"cannot be a name":   {one: "Camp 1"},
		"\"\" cannot be":     {one: ""},
		"\"../x\" cannot be": {one: "../x"},
		"is taken":           {one: "camp", two: "camp"},
		"img_2042":           {one: "img_2042"},
		"no picture":         {"files/none.jpg": "x"},
		"No picture is":      {},
	} {
		err := runa.Former.Rename(id, names)
		require.Error(t, err, says)
		assert.Contains(t, err.Error(), says)
	}
	require.NoError(t, runa.Former.Rename(id, map[string]string{one: "camp"}))
	desktest.Refusal(t, runa.Former.Rename(id, map[string]string{two: "camp"}), access.Clash, "is taken")
	require.NoError(t, runa.Former.Rename(id, map[string]string{one: "pier", two: "camp"}), "the first gives its name up")
}

// What is no site is refused with its reason, and leaves nothing behind.
func TestWhatIsNoSiteIsRefused(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ctx := context.Background()
	_, err := b.BringIn.Bring(ctx, "camp.zip", strings.NewReader("no archive"), nil)
	desktest.Refusal(t, err, access.Bad, "no ZIP archive")
	_, err = b.BringIn.Bring(ctx, "camp.zip", bytes.NewReader(packed(t, map[string][]byte{"a.jpg": desktest.Photo(30, 20, 1)})), nil)
	desktest.Refusal(t, err, access.Bad, "There is no page")
	broken := errors.New("the line broke")
	_, err = b.BringIn.BringFolder(ctx, "camp", func() (string, io.Reader, error) { return "", nil, broken }, nil)
	require.ErrorIs(t, err, broken)
	sites, err := b.Former.Sites()
	require.NoError(t, err)
	assert.Empty(t, sites)
	_, err = b.Former.Of(9)
	desktest.Refusal(t, err, access.Missing, "not here")

	// A folder comes file by file; a path does not lead out of it.
	left := [][2]string{{"camp/index.html", "<p>Camp"}, {"../../etc/x.html", "<p>x"}}
	f, err := b.BringIn.BringFolder(ctx, "camp", func() (string, io.Reader, error) {
		if len(left) == 0 {
			return "", nil, io.EOF
		}
		one := left[0]
		left = left[1:]
		return one[0], strings.NewReader(one[1]), nil
	}, nil)
	require.NoError(t, err)
	assert.Equal(t, 2, f.Sum.Pages)
	assert.Equal(t, "<p>x", desktest.ReadFormer(t, b.Desk, f.ID, false, "etc/x.html"))
	_, err = b.Former.Open(f.ID, false, "../../../etc/passwd")
	desktest.Refusal(t, err, access.Missing, "There is no")
	_, err = b.Former.Open(f.ID, true, "index.html")
	desktest.Refusal(t, err, access.Missing, "not been mended")
	_, _, err = b.Former.Take(f.ID)
	desktest.Refusal(t, err, access.Missing, "not been mended")

	desktest.Refusal(t, b.Former.Drop(f.ID, "other"), access.Bad, "Type camp")
	require.NoError(t, b.Former.Drop(f.ID, "camp"))
	_, err = b.Former.Of(f.ID)
	desktest.Refusal(t, err, access.Missing, "not here")
}

// While a site is mended it is not mended again and not forgotten; who stops it finds what was there before.
func TestMendingIsStopped(t *testing.T) {
	t.Parallel()
	b, _, id := brought(t)
	job, err := b.Former.Mend(id)
	require.NoError(t, err)
	_, err = b.Former.Mend(id)
	if !job.Progress().Ended {
		desktest.Refusal(t, err, access.Clash, "already")
		desktest.Refusal(t, b.Former.Drop(id, "camp"), access.Clash, "is being mended")
	}
	require.NoError(t, b.Jobs.Stop(job.ID))
	job.Wait()
	v, err := b.Former.Of(id)
	require.NoError(t, err)
	assert.Zero(t, v.Mending)
	again, err := b.Former.Mend(id)
	require.NoError(t, err)
	again.Wait()
	v, err = b.Former.Of(id)
	require.NoError(t, err)
	assert.NotEmpty(t, v.MendedHash)
}
