package bench

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/destinations"
	"mivlet/edge/folder"
	"mivlet/edge/s3"
	"mivlet/edge/sftp"
	"mivlet/edge/webdav"
	"mivlet/internal/servertest"
	"mivlet/practice"
	"mivlet/practice/window"
	"mivlet/store"
	"mivlet/store/datafolder"
)

const (
	sentPages   = 1000
	perPage     = 4
	bytesOfEach = 30_000
)

// published is a house of live pages, each with pictures of its own (which are noise: nothing looks
// into them here).
func published(b *testing.B, places map[string]destinations.OpenPlace) (*desk.Desk, *datafolder.Folder, func(n int)) {
	b.Helper()
	kept, err := datafolder.Open(b.TempDir())
	require.NoError(b, err)
	b.Cleanup(func() { _ = kept.Close() })
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}}
	require.NoError(b, kept.SaveRules(r, "Ines", "to begin with", time.Now()))
	d, err := desk.New(&kept.Store, desk.Options{SiteURL: "http://127.0.0.1:8081", Places: places})
	require.NoError(b, err)
	site := practice.Site{Rules: d.Rules}
	d.Mirror.UseSite(site.Plain(window.Of{Desk: d}))
	noise := rand.NewChaCha8([32]byte{1})
	goLive := func(n int) {
		at := fmt.Sprintf("/juniors/page-%d", n)
		var files []store.Published
		main := ""
		for i := range perPage {
			data := make([]byte, bytesOfEach)
			_, _ = noise.Read(data)
			hash, err := kept.Files.Put(bytes.NewReader(data), "image/jpeg")
			require.NoError(b, err)
			path := fmt.Sprintf("/juniors/picture-%d-%d.jpg", n, i)
			files = append(files, store.Published{Path: path, Hash: hash, MediaType: "image/jpeg", PictureID: uint(n*perPage + i + 1), PictureVersion: 1, Veils: []string{}})
			main += fmt.Sprintf("<p>%s</p><img src=\"%s?v=%s\" alt=\"A picture\" width=\"640\" height=\"400\">\n", bytes.Repeat([]byte("Words of a page. "), 60), path, store.Mark(hash))
		}
		var doc bytes.Buffer
		require.NoError(b, site.Write(&doc, practice.Page{Title: fmt.Sprintf("Page %d", n), Section: "juniors", Main: main}))
		hash, err := kept.Files.Put(&doc, store.PageType)
		require.NoError(b, err)
		files = append(files, store.Published{Path: at, Hash: hash, MediaType: store.PageType, Veils: []string{}})
		p, err := kept.Page(uint(n + 1))
		if err != nil {
			p = store.Page{Section: "juniors", Slug: fmt.Sprintf("page-%d", n), Version: 1, UpdatedAt: time.Now(), Doc: page.Doc{Version: page.Version, Title: fmt.Sprintf("Page %d", n)}}
			require.NoError(b, kept.AddPage(&p))
		}
		require.NoError(b, kept.Publish(&p, files, "print", time.Now()))
	}
	for n := range sentPages {
		goLive(n)
	}
	return d, kept, goLive
}

// BenchmarkSending measures, for each kind of destination, the first sending of all and the one after
// a page has changed.
func BenchmarkSending(b *testing.B) {
	for _, kind := range []string{destinations.InFolder, destinations.OverSSH, destinations.OverWebDAV, destinations.InBucket} {
		b.Run(kind, func(b *testing.B) {
			dir := b.TempDir()
			open := func(context.Context, store.Destination, destinations.Secret) (destinations.Place, error) {
				return folder.Open(dir)
			}
			switch kind {
			case destinations.OverWebDAV:
				at, _ := servertest.NewWebDAV(b)
				open = func(ctx context.Context, _ store.Destination, _ destinations.Secret) (destinations.Place, error) {
					return webdav.Open(ctx, at, servertest.Login, servertest.Password)
				}
			case destinations.InBucket:
				at, _ := servertest.NewS3(b)
				open = func(ctx context.Context, _ store.Destination, _ destinations.Secret) (destinations.Place, error) {
					return s3.Open(ctx, s3.Storage{Address: at, Bucket: servertest.StoredIn, Key: servertest.Login, SecretKey: servertest.Password})
				}
			case destinations.OverSSH:
				ssh := servertest.NewSSH(b)
				s := sftp.Server{Host: ssh.Host, Login: ssh.Login, Folder: dir, Key: ssh.Key(b), HostKey: ssh.HostKey}
				open = func(ctx context.Context, _ store.Destination, _ destinations.Secret) (destinations.Place, error) {
					return sftp.Open(ctx, s)
				}
			}
			d, _, goLive := published(b, map[string]destinations.OpenPlace{destinations.InFolder: open})
			id, err := d.Destinations.Save(destinations.Change{Folder: dir, Base: "https://club.example"})
			require.NoError(b, err)
			send := func() (time.Duration, int) {
				begun := time.Now()
				work, err := d.Destinations.Send(context.Background(), id)
				require.NoError(b, err)
				return time.Since(begun), len(work.Send)
			}
			for b.Loop() {
				first, all := send()
				none, _ := send()
				goLive(7)
				one, few := send()
				b.ReportMetric(first.Seconds(), "first-s")
				b.ReportMetric(float64(all), "first-files")
				b.ReportMetric(1000*none.Seconds(), "nothing-ms")
				b.ReportMetric(1000*one.Seconds(), "one-ms")
				b.ReportMetric(float64(few), "one-files")
			}
		})
	}
}
