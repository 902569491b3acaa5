package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
	"mivlet/edge/visitor"
	"mivlet/internal/sealed"
	"mivlet/internal/servertest"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// many is a program with some houses, as those who ask for them by their names reach it.
type many struct {
	*houses
	t           *testing.T
	app, public *httptest.Server
}

// newMany makes houses; lay prepares the folder of each.
func newMany(t *testing.T, lay func(dir, name string), names ...string) *many {
	t.Helper()
	dir := t.TempDir()
	for _, name := range names {
		require.NoError(t, os.Mkdir(filepath.Join(dir, name), 0o700))
		if lay != nil {
			lay(filepath.Join(dir, name), name)
		}
	}
	d := &many{t: t}
	budget := derive.NewBudget(0)
	d.houses = newHouses(dir, func(host string) (place, error) {
		data := filepath.Join(dir, host)
		return place{data: data, name: host, siteURL: "http://" + host, visitor: visitor.NewThrough(d.public.Listener.Addr().String()), decoding: budget, backing: &backing{},
			sealer: func() (access.Sealer, error) { return sealed.Load(filepath.Join(data, keyName)) }, answered: func(web.Answered) {}}, nil
	})
	d.app = httptest.NewServer(d.lead(func(h *house) http.Handler { return h.screens }))
	d.public = httptest.NewServer(d.lead(func(h *house) http.Handler { return h.visitors }))
	t.Cleanup(func() {
		d.app.Close()
		d.public.Close()
		assert.NoError(t, d.closeAll())
	})
	return d
}

// client asks for houses by their names, and keeps the cookies of each.
func (d *many) client() *http.Client {
	d.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(d.t, err)
	proxy, err := url.Parse(d.app.URL)
	require.NoError(d.t, err)
	return &http.Client{Jar: jar, Transport: &http.Transport{Proxy: http.ProxyURL(proxy)}, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}

// keeper makes the first account of a house, and is signed in to it.
func (d *many) keeper(name, login string) *http.Client {
	d.t.Helper()
	h, leave, err := d.enter(d.t.Context(), name)
	require.NoError(d.t, err)
	code, err := h.d.People.FirstCode()
	require.NoError(d.t, err)
	leave()
	c := d.client()
	res, err := c.PostForm("http://"+name+"/first", url.Values{"name": {login}, "login": {login}, "password": {"four words in a row"}, "code": {code}})
	require.NoError(d.t, err)
	res.Body.Close()
	require.Equal(d.t, http.StatusSeeOther, res.StatusCode)
	return c
}

// get asks for an address.
func get(t *testing.T, c *http.Client, address string) (int, string) {
	t.Helper()
	res, err := c.Get(address)
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res.StatusCode, string(data)
}

// onServers lays houses into one database and one bucket.
func onServers(t *testing.T) func(dir, name string) {
	t.Helper()
	server := servertest.NewPostgres(t)
	bucket, _ := servertest.NewS3(t)
	secret := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(secret, []byte(servertest.Password), 0o600))
	return func(dir, name string) {
		short, _, _ := bytes.Cut([]byte(name), []byte("."))
		require.NoError(t, datafolder.Storage{Records: datafolder.RecordsStorage{Postgres: server.URL, House: string(short)},
			Files: datafolder.FilesStorage{S3: bucket + "/" + servertest.StoredIn + "/" + string(short), Login: servertest.Login, SecretFile: secret}}.Write(dir))
	}
}

// Houses of one program know nothing of each other, whether each has a folder of its own or all share a database: a
// session of one opens no door of another, nor does a name, a number or the content of a file.
func TestHousesDoNotMix(t *testing.T) {
	t.Parallel()
	for where, lay := range map[string]func(*testing.T) func(dir, name string){
		"folders": func(*testing.T) func(string, string) { return nil }, "servers": onServers,
	} {
		t.Run(where, func(t *testing.T) {
			t.Parallel()
			const north, south = "north.district.example", "south.district.example"
			d := newMany(t, lay(t), north, south)
			ines := d.keeper(north, "ines")
			status, _ := get(t, ines, "http://"+south+"/arrivals")
			assert.Equal(t, http.StatusSeeOther, status, "to the door of the other house")
			runa := d.keeper(south, "runa")

			photo, err := os.ReadFile("../../demo/pictures/DSC_0417.JPG")
			require.NoError(t, err)
			req, err := http.NewRequest(http.MethodPost, "http://"+north+"/arrivals", bytes.NewReader(photo))
			require.NoError(t, err)
			req.Header.Set("X-File-Name", "lake.jpg")
			res, err := ines.Do(req)
			require.NoError(t, err)
			res.Body.Close()
			require.Less(t, res.StatusCode, 400)

			of := func(name string) *house {
				h, leave, err := d.enter(t.Context(), name)
				require.NoError(t, err)
				leave()
				return h
			}
			kept, err := of(north).kept.Picture(1)
			require.NoError(t, err)
			_, err = of(south).kept.Picture(1)
			assert.Error(t, err)
			assert.False(t, of(south).kept.Files.Has(kept.OriginalHash), "the content of a file is no key to another house")
			numbers, err := of(south).kept.Database().Numbers()
			require.NoError(t, err)
			for _, table := range []string{"pictures", "steps", "copies"} {
				assert.Zero(t, numbers[table], table)
			}
			assert.EqualValues(t, 1, numbers["people"])

			// The cookie of one house, carried to another by hand.
			home, err := url.Parse("http://" + north)
			require.NoError(t, err)
			for _, path := range []string{"/arrivals", "/thumbs/1", "/originals/1", "/people", "/bench/1"} {
				req, err := http.NewRequest(http.MethodGet, "http://"+south+path, nil)
				require.NoError(t, err)
				for _, c := range ines.Jar.Cookies(home) {
					req.AddCookie(c)
				}
				stranger := d.client()
				stranger.Jar = nil
				res, err := stranger.Do(req)
				require.NoError(t, err)
				res.Body.Close()
				assert.NotEqual(t, http.StatusOK, res.StatusCode, path)
			}
			status, _ = get(t, runa, "http://"+south+"/thumbs/1")
			assert.Equal(t, http.StatusNotFound, status)
			_, trail := get(t, runa, "http://"+south+"/trail")
			assert.NotContains(t, trail, "lake.jpg")

			for _, name := range []string{"west.district.example", "127.0.0.1", "..", "district.example"} {
				req, err := http.NewRequest(http.MethodGet, d.app.URL+"/", nil)
				require.NoError(t, err)
				req.Host = name
				res, err := http.DefaultClient.Do(req)
				require.NoError(t, err)
				res.Body.Close()
				assert.Equal(t, http.StatusMisdirectedRequest, res.StatusCode, name)
			}
		})
	}
}

// A house that nobody asks for is closed, and open again for whoever asks next; one in which something goes on stays open.
func TestAHouseSleepsAndWakes(t *testing.T) {
	t.Parallel()
	const north = "north.district.example"
	d := newMany(t, nil, north, "south.district.example")
	ines := d.keeper(north, "ines")
	assert.Equal(t, 1, d.openNow(), "nobody has asked for the other one")
	d.closeIdle(time.Now())
	assert.Equal(t, 1, d.openNow())
	h, leave, err := d.enter(t.Context(), north)
	require.NoError(t, err)
	d.closeIdle(time.Now().Add(time.Hour))
	assert.Equal(t, 1, d.openNow(), "somebody is in it")
	hold := make(chan struct{})
	job := h.d.Jobs.Start("something long", []jobs.Task{{Steps: 1, Do: func(*jobs.Job) error { <-hold; return nil }}})
	leave()
	d.closeIdle(time.Now().Add(time.Hour))
	assert.Equal(t, 1, d.openNow(), "a job goes on in it")
	close(hold)
	job.Wait()
	d.closeIdle(time.Now().Add(time.Hour))
	assert.Zero(t, d.openNow())
	status, _ := get(t, ines, "http://"+north+"/arrivals")
	assert.Equal(t, http.StatusOK, status, "the session goes on")
	assert.Equal(t, 1, d.openNow())

	// Opened and closed at any moment while people ask for it.
	stop := make(chan struct{})
	var closing, asking sync.WaitGroup
	closing.Go(func() {
		for {
			select {
			case <-stop:
				return
			default:
				d.closeIdle(time.Now().Add(time.Hour))
			}
		}
	})
	for range 4 {
		asking.Go(func() {
			for n := range 12 {
				res, err := ines.Get(fmt.Sprintf("http://%s/help?n=%d", north, n))
				if assert.NoError(t, err) {
					assert.Equal(t, http.StatusOK, res.StatusCode)
					res.Body.Close()
				}
			}
		})
	}
	asking.Wait()
	close(stop)
	closing.Wait()
	names, err := d.names()
	require.NoError(t, err)
	assert.Len(t, names, 2)
	beside, end := context.WithCancel(t.Context())
	awake := make(chan struct{})
	go func() { defer close(awake); d.wake(beside, "south.district.example") }()
	require.Eventually(t, func() bool { return d.openNow() > 0 }, 10*time.Second, 10*time.Millisecond)
	end()
	<-awake
}

// A house that shares its machine has no more pictures and people than whoever runs it allots; the note of a house goes
// before that of all.
func TestAHouseHasWhatItIsAllotted(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for _, name := range []string{"north.example", "south.example"} {
		require.NoError(t, os.Mkdir(filepath.Join(dir, name), 0o700))
	}
	note := func(at, text string) { require.NoError(t, os.WriteFile(filepath.Join(dir, at), []byte(text), 0o600)) }
	note(allotmentName, "pictures = 500\nbytes = 2_000_000_000\n")
	note("north.example/"+allotmentName, "people = 2\n")
	of := func(name string) access.Allotment {
		a, err := readAllotment(dir, name)
		require.NoError(t, err)
		return a
	}
	assert.Equal(t, access.Allotment{People: 2}, of("north.example"))
	assert.Equal(t, access.Allotment{Pictures: 500, Bytes: 2_000_000_000}, of("south.example"))
	note("north.example/"+allotmentName, "persons = 2\n")
	_, err := readAllotment(dir, "north.example")
	assert.ErrorContains(t, err, `unknown setting "persons"`)

	// All that is wrong is told before anything is started.
	note("south.example/"+datafolder.StorageName, "[files]\ns3 = \"s3.example\"\n")
	note(givenName, `{"fixed": {"slots": []}}`)
	code, _, errs := shell("config", "check", "--houses", dir)
	assert.NotZero(t, code)
	for _, says := range []string{`unknown setting "persons"`, `invalid address of files "s3.example"`, "/fixed/slots"} {
		assert.Contains(t, errs, says)
	}
	code, _, errs = shell("serve", "--houses", dir)
	assert.NotZero(t, code)
	assert.Contains(t, errs, `unknown setting "persons"`)
	code, _, errs = shell("serve", "--houses", dir, "--data", dir)
	assert.NotZero(t, code)
	assert.Contains(t, errs, "and not both")
}
