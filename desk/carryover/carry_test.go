package carryover_test

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

const campText = `<html><head><title>Summer camp 1998</title></head><body><h1>Summer camp</h1><p>We were <b>forty</b>, see <a href=next.html>the second day</a> and <a href="http://elsewhere.example/x">others</a>.</p>
<figure><img src="files/IMG_2041.jpg" alt="Two red boats lie at the pier" width=300><figcaption>The pier in May</figcaption></figure><h2>Boats</h2>
<table><tr><th>Boat<th>Seats<tr><td>Red<td>2</table><p><img src="files/IMG_2042.jpg" alt="A blue boat on the grass" width=300><img src="files/gone.jpg" alt="Gone"><img src="notes.txt" alt="No picture"></p><p>The end.</p></body></html>`

// brought is a house with a former site of these files.
func brought(t *testing.T, files map[string][]byte) (*desktest.Fixture, uint) {
	t.Helper()
	b := desktest.Fresh(t)
	f, err := b.BringIn.Bring(context.Background(), "camp.zip", bytes.NewReader(desktest.Packed(t, files)), []string{"www.club.example"})
	require.NoError(t, err)
	return b, f.ID
}

// A page of a former site becomes a draft, as an editor would have written it, with its pictures, their words and
// captions. Another page that shows one of them gets the same picture, and links between the two lead to each other.
func TestAPageIsCarriedOver(t *testing.T) {
	t.Parallel()
	b, id := brought(t, map[string][]byte{
		"index.html": []byte(campText), "notes.txt": []byte("no picture at all"),
		"files/IMG_2041.jpg": desktest.Photo(2400, 1600, 3), "files/IMG_2042.jpg": desktest.Photo(1200, 800, 5),
		"next.html": []byte(`<title>Camp, second day</title><h1>Second day</h1><p>Back to <a href="index.html">the first</a>.</p><img src="files/IMG_2041.jpg" alt="Two red boats lie at the pier" width="300">`),
	})
	job, err := b.CarryOver.Begin(id, []string{"index.html"}, "juniors")
	require.NoError(t, err)
	failed := desktest.Ended(t, job).Failed
	require.Len(t, failed, 1)
	assert.Contains(t, failed[0], "index.html is there, without 2 pictures: files/gone.jpg is not in the site; notes.txt is no picture")
	v, all, err := b.CarryOver.Pages(id)
	require.NoError(t, err)
	assert.Equal(t, 1, v.Carried)
	require.Len(t, all, 2)
	require.NotZero(t, all[0].As)
	p, err := b.Pages.Page(all[0].As)
	require.NoError(t, err)
	assert.Equal(t, []any{"Summer camp", "juniors", false}, []any{p.Doc.Title, p.Section, p.LiveVersion > 0})
	var blocks []string
	for _, one := range p.Doc.Blocks {
		text := string(one.Kind) + " " + one.Text
		if one.Placement != nil {
			text = string(one.Kind) + " " + one.Placement.Caption
		}
		blocks = append(blocks, strings.TrimSpace(text))
	}
	assert.Equal(t, []string{
		"text We were **forty**, see [the second day](<https://www.club.example/next.html>) and [others](<http://elsewhere.example/x>).",
		"picture The pier in May", "heading Boats", "text | Boat | Seats |\n| --- | --- |\n| Red | 2 |", "picture", "text The end.",
	}, blocks)
	first, err := b.Kept.Picture(p.Doc.Blocks[1].Placement.Picture)
	require.NoError(t, err)
	assert.Equal(t, []any{"Two red boats lie at the pier", "juniors"}, []any{first.Work.Alt, first.Section})
	assert.NotEmpty(t, first.Name, "it is named after what it shows")
	trail, err := b.Kept.Trail(store.TrailFilter{Most: 50})
	require.NoError(t, err)
	var said []string
	for _, l := range trail {
		said = append(said, l.What)
	}
	assert.Contains(t, said, "Carried over from camp, where it stood on index.html")

	// The next page shows a picture that is here already, and leads to what the first one became.
	job, err = b.CarryOver.Begin(id, []string{"next.html"}, "juniors")
	require.NoError(t, err)
	assert.Empty(t, desktest.Ended(t, job).Failed)
	_, all, err = b.CarryOver.Pages(id)
	require.NoError(t, err)
	second, err := b.Pages.Page(all[1].As)
	require.NoError(t, err)
	assert.Equal(t, "Back to [the first](</juniors/summer-camp>).", second.Doc.Blocks[0].Text)
	assert.Equal(t, first.ID, second.Doc.Blocks[1].Placement.Picture)
	p, err = b.Pages.Page(all[0].As)
	require.NoError(t, err)
	assert.Equal(t, "We were **forty**, see [the second day](</juniors/second-day>) and [others](<http://elsewhere.example/x>).", p.Doc.Blocks[0].Text, "the first one leads there now")

	// Twice is refused, unless the draft was deleted.
	_, err = b.CarryOver.Begin(id, []string{"next.html"}, "juniors")
	refused, ok := desktest.AsRefusal(err)
	require.True(t, ok)
	assert.Equal(t, access.Clash, refused.Kind)
	require.NoError(t, b.Deleted.Delete(all[1].As))
	_, err = b.CarryOver.Begin(id, []string{"next.html"}, "juniors")
	require.NoError(t, err)
}

// Whoever works for a section carries pages over for it, and for no other. What nobody can choose is refused.
func TestWhoCarriesOver(t *testing.T) {
	t.Parallel()
	b, id := brought(t, map[string][]byte{
		"index.html":         []byte(`<title>Summer camp</title><p>Zoë at the pier <img src="files/IMG_2041.jpg" width=300></p><p><img src="files/IMG_2042.jpg" width=300><img src="files/IMG_2041.jpg" width=300></p>`),
		"files/IMG_2041.jpg": desktest.Photo(1200, 800, 3), "files/IMG_2042.jpg": desktest.Photo(900, 600, 5),
	})
	editor := b.As(access.PersonOf(store.Person{ID: 7, Name: "Runa", Login: "runa", Roles: []store.Role{{Section: "juniors", Role: string(access.Contributor)}}}))
	for _, c := range []struct{ page, section string }{{"nowhere.html", "juniors"}, {"index.html", "touring"}, {"index.html", ""}, {"../index.html", "juniors"}} {
		_, err := editor.CarryOver.Begin(id, []string{c.page}, c.section)
		_, ok := desktest.AsRefusal(err)
		assert.True(t, ok, "%+v: %v", c, err)
	}
	job, err := editor.CarryOver.Begin(id, []string{"index.html"}, "juniors")
	require.NoError(t, err)
	assert.Empty(t, desktest.Ended(t, job).Failed)
	_, all, err := b.CarryOver.Pages(id)
	require.NoError(t, err)
	p, err := b.Pages.Page(all[0].As)
	require.NoError(t, err)
	assert.Equal(t, "Summer camp", p.Doc.Title, "as its title says")
	pictures := 0
	for _, one := range p.Doc.Blocks {
		if one.Kind == page.Picture {
			pictures++
		}
	}
	assert.Equal(t, 3, pictures)
	assert.Len(t, p.Doc.Pictures(), 2, "one of them stands there twice")
}

// Several pages come one after the other, their columns as the house has them. When the program ends at any of them,
// it goes on when it is started again, with the same drafts: no page, no block and no picture comes twice.
func TestSeveralPagesAreCarriedOver(t *testing.T) {
	t.Parallel()
	pageOf := func(n int) []byte {
		return fmt.Appendf(nil, `<title>Day %[1]d</title><p>Day %[1]d, <a href="../days/%[2]d.html">on</a></p><table><tr><td width=66%%><img src="../files/%[1]d.jpg" alt="Two red boats, day %[1]d" width=300><td width=34%%><p>Beside</table><p>Behind`, n, n%3+1)
	}
	files := map[string][]byte{}
	var chosen []string
	for n := 1; n <= 3; n++ {
		at := fmt.Sprintf("days/%d.html", n)
		chosen = append(chosen, at)
		files[at], files[fmt.Sprintf("files/%d.jpg", n)] = pageOf(n), desktest.Photo(900, 600, uint64(n))
	}
	files["index.html"] = []byte("<title>Club</title><p>Welcome")
	b, id := brought(t, files)
	job, err := b.CarryOver.Begin(id, chosen, "juniors")
	require.NoError(t, err)
	assert.Empty(t, desktest.Ended(t, job).Failed)
	told := func(d *desk.Desk) (all []string) {
		t.Helper()
		_, listed, err := d.CarryOver.Pages(id)
		require.NoError(t, err)
		for _, one := range listed {
			if one.As == 0 {
				continue
			}
			p, err := d.Pages.Page(one.As)
			require.NoError(t, err)
			for _, b := range p.Doc.Blocks {
				line := fmt.Sprintf("%d %s %d %s", one.As, b.Kind, b.Column, b.Text)
				if b.Band != nil {
					line += b.Band.Pattern
				}
				if b.Placement != nil {
					line += fmt.Sprint(b.Placement.Picture)
				}
				all = append(all, line)
			}
		}
		return all
	}
	want := told(b.Desk)
	require.Len(t, want, 18)
	assert.Regexp(t, `^\d+ text 0 Day 1, \[on\]\(</juniors/day-2>\)$`, want[0])
	assert.Regexp(t, `^\d+ band 0 \S+$`, want[1])
	assert.Regexp(t, `^\d+ picture 0 \d+$`, want[2])
	assert.Regexp(t, `^\d+ text 1 Beside$`, want[3])
	assert.Regexp(t, `^\d+ band 0 \S+$`, want[4])
	assert.Regexp(t, `^\d+ text 0 Behind$`, want[5])
	pictures := func() (n int) {
		for id := uint(1); ; id++ {
			if _, err := b.Kept.Picture(id); err != nil {
				return n
			}
			n++
		}
	}
	came := pictures()

	kept, err := b.Kept.Jobs(1)
	require.NoError(t, err)
	for done := range 4 { // as if it had been killed before it noted the rest
		kept[0].Done, kept[0].EndedAt = done, nil
		require.NoError(t, b.Kept.SaveJob(kept[0]))
		d, err := desk.New(&b.Kept.Store, desk.Options{})
		require.NoError(t, err)
		t.Cleanup(d.Jobs.End)
		require.NoError(t, d.Jobs.Resume())
		require.Eventually(t, func() bool { p, err := d.Jobs.Job(kept[0].ID); return err == nil && p.Ended }, time.Minute, time.Millisecond)
		assert.Equal(t, want, told(d), "from task %d", done)
	}
	assert.Equal(t, came, pictures())

	for _, none := range [][]string{nil, {"index.html", "days/1.html"}} {
		_, err = b.CarryOver.Begin(id, none, "juniors")
		_, ok := desktest.AsRefusal(err)
		assert.True(t, ok, "%v: %v", none, err)
	}
}
