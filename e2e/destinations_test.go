package e2e

import (
	"context"
	"fmt"
	"io/fs"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	cryptossh "golang.org/x/crypto/ssh"

	"mivlet/internal/servertest"
)

// nginx serves a folder under /club, as a school's own server does, and includes what tells it
// where pages have moved. What it returns makes it read that anew.
func nginx(t *testing.T, folder string) (base string, again func()) {
	t.Helper()
	dir := t.TempDir()
	at := servertest.FreeAddress(t)
	types := ""
	if _, err := os.Stat("/etc/nginx/mime.types"); err == nil {
		types = "include /etc/nginx/mime.types;"
	}
	user := ""
	if os.Getuid() == 0 { // its workers may read the folder of a test, too
		user = "user root;"
	}
	conf := filepath.Join(dir, "nginx.conf")
	require.NoError(t, os.WriteFile(conf, fmt.Appendf(nil, `%[5]s daemon off; worker_processes 1; pid %[1]s/pid; error_log %[1]s/error.log;
events {}
http { %[2]s access_log off; client_body_temp_path %[1]s/b; proxy_temp_path %[1]s/p; fastcgi_temp_path %[1]s/f; uwsgi_temp_path %[1]s/u; scgi_temp_path %[1]s/s;
server { listen %[3]s; charset utf-8; include %[4]s/redirects.con[f]; location /club/ { alias %[4]s/; } } }`, dir, types, at, folder, user), 0o600))
	cmd := exec.Command("/usr/sbin/nginx", "-p", dir, "-c", conf, "-e", dir+"/error.log")
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	})
	base = "http://" + at + "/club"
	servertest.Answers(t, base+"/", patience)
	return base, func() {
		out, err := exec.Command("/usr/sbin/nginx", "-p", dir, "-c", conf, "-e", dir+"/error.log", "-s", "reload").CombinedOutput()
		require.NoError(t, err, "%s", out)
	}
}

// A keeper adds the folder that another server serves, sees what would be sent, and sends it. From
// then on it goes by itself: visitors of the other server see what is live, and nothing that is not.
func TestADestinationIsAddedAndSentTo(t *testing.T) {
	h := start(t, "demo")
	folder := t.TempDir()
	base, again := nginx(t, folder)
	b := browser(t)
	p := open(t, b, h.app+"/destinations", 1280, 800, 1)
	waitText(t, p, ".empty", "Nothing is sent before")
	hit(t, p, `a[href="/destinations/new"]`)
	waitText(t, p, "h1", "New destination")
	p.MustElement("[name=folder]").MustInput("/no/such/folder")
	p.MustElement("[name=base]").MustInput(base)
	p.MustElement("[name=title]").MustInput("The club's own server")
	p.MustElement("[name=form]").MustSelect("A file redirects.conf to include, for nginx")
	hit(t, p, ".destination-form .primary")
	waitText(t, p, "#notice", "There is no folder /no/such/folder")
	p.MustElement("[name=folder]").MustSelectAllText().MustInput(folder)
	hit(t, p, ".destination-form .primary")
	waitText(t, p, "#plan", `\d+ files, \d`)
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Empty(t, entries, "nothing is sent before")
	hit(t, p, "#now .primary")
	waitText(t, p, "#now .state", "Everything is there")
	waitText(t, p, ".saw", "came from the public address as they were sent")

	// As a visitor of the other server.
	v := b.MustPage()
	sees := func(at string) {
		t.Helper()
		v.MustNavigate(at).MustWaitLoad()
		waitFor(t, v, `[...document.images].filter((i) => i.checkVisibility() && i.getBoundingClientRect().top < innerHeight).every((i) => i.complete && i.naturalWidth > 0)`)
		assert.Equal(t, "rgb(", v.MustEval(`() => getComputedStyle(document.querySelector('main')).color.slice(0, 4)`).Str())
	}
	sees(base + "/")
	assert.Equal(t, "Brindlemere Paddle Club", v.MustElement(".site-name").MustText())
	assert.Positive(t, v.MustEval(`() => document.images.length`).Int())
	first := v.MustEval(`() => document.querySelector('main a[href*="/touring/"]').href`).Str()
	assert.True(t, strings.HasPrefix(first, base+"/touring/"))
	hit(t, v, `main a[href*="/touring/"]`)
	waitFor(t, v, fmt.Sprintf(`location.href === %q`, first))
	sees(first)
	assert.False(t, v.MustHas("footer.site"), "it is no practice site")

	// What goes live, or off the air, goes there by itself.
	at := "/" + demoPages[3]
	_, err = os.Stat(filepath.Join(folder, at, "index.html"))
	require.NoError(t, err)
	res, err := h.client.PostForm(h.app+"/pages/4/rename", url.Values{"title": {"Under another name"}, "slug": {"under-another-name"}})
	require.NoError(t, err)
	res.Body.Close()
	require.Less(t, res.StatusCode, 400)
	moved := path.Dir(at) + "/under-another-name"
	require.Eventually(t, func() bool {
		_, err := os.Stat(filepath.Join(folder, moved, "index.html"))
		_, left := os.Stat(filepath.Join(folder, at, "index.html"))
		_, told := os.Stat(filepath.Join(folder, "redirects.conf"))
		return err == nil && os.IsNotExist(left) && told == nil
	}, patience, 50*time.Millisecond)
	require.Eventually(t, func() bool { return strings.Contains(contents(t, filepath.Join(folder, "redirects.conf")), at) }, patience, 50*time.Millisecond)
	again()
	require.Eventually(t, func() bool {
		res, err := http.Get(base + at)
		require.NoError(t, err)
		defer res.Body.Close()
		return res.StatusCode == http.StatusOK && strings.HasSuffix(res.Request.URL.Path, "/under-another-name/")
	}, patience, 50*time.Millisecond, "nginx leads on")

	// What somebody else changes there is told, and stays until somebody decides.
	require.NoError(t, os.WriteFile(filepath.Join(folder, "index.html"), []byte("by hand"), 0o600))
	p.MustReload().MustWaitLoad()
	hit(t, p, "#now .button", "Look through it")
	waitText(t, p, ".theirs", "index.html")
	assert.Equal(t, "by hand", contents(t, filepath.Join(folder, "index.html")))
	p.MustElement(".theirs [type=checkbox]").MustClick()
	hit(t, p, ".theirs .button")
	waitFor(t, p, `!document.querySelector('.theirs')`)
	require.Eventually(t, func() bool { return strings.Contains(contents(t, filepath.Join(folder, "index.html")), "Brindlemere") }, patience, 50*time.Millisecond, "it is sent again by itself")
}

// Over SSH: the server is confirmed first, then let know the key, and then sent to.
func TestADestinationOverSSH(t *testing.T) {
	h := start(t, "demo")
	folder := t.TempDir()
	base, _ := nginx(t, folder)
	ssh := servertest.NewSSH(t)
	p := open(t, browser(t), h.app+"/destinations/new", 1280, 800, 1)
	hit(t, p, ".kinds a", "over SSH")
	waitText(t, p, ".kinds [aria-current]", "over SSH")
	for name, text := range map[string]string{"host": ssh.Host, "login": ssh.Login, "folder": folder, "base": base} {
		p.MustElement("[name=" + name + "]").MustInput(text)
	}
	hit(t, p, ".destination-form .primary")
	waitText(t, p, "#plan .unknown", "Is this your server")
	key, _, _, _, err := cryptossh.ParseAuthorizedKey([]byte(ssh.HostKey))
	require.NoError(t, err)
	assert.Contains(t, p.MustElement("#plan .unknown").MustText(), cryptossh.FingerprintSHA256(key))
	hit(t, p, "#plan .unknown .button")
	waitText(t, p, "#plan", "unable to authenticate") // it does not know the key yet
	ssh.Allow(t, p.MustElement("#public-key").MustProperty("value").Str())
	p.MustReload().MustWaitLoad()
	waitText(t, p, "#plan", `\d+ files, \d`)
	hit(t, p, "#now .primary")
	waitText(t, p, "#now .state", "Everything is there")
	waitText(t, p, ".saw", "came from the public address as they were sent")
	wholeFolder(t, folder, "/club")
	for _, screen := range []string{"/destinations", "/destinations/1"} {
		assert.NotContains(t, body(t, h.app+screen), "PRIVATE")
	}
}

func contents(t *testing.T, at string) string {
	t.Helper()
	data, err := os.ReadFile(at)
	require.NoError(t, err)
	return string(data)
}

// Killed again and again while it sends, the program goes on where it was: no page in the folder
// ever shows what is not there, and in the end all is as if nothing had happened.
func TestSendingOutlivesBeingKilled(t *testing.T) {
	t.Parallel()
	for _, kind := range []string{"folder", "sftp", "webdav", "s3"} {
		t.Run(kind, func(t *testing.T) {
			t.Parallel()
			outlivesBeingKilled(t, kind)
		})
	}
}

func outlivesBeingKilled(t *testing.T, kind string) {
	data, folder := t.TempDir(), t.TempDir()
	copySeed(t, data)
	form := url.Values{"kind": {kind}, "folder": {folder}, "form": {"pages"}, "grace": {"0"}, "login": {servertest.Login}, "password": {servertest.Password}}
	switch kind {
	case "webdav":
		form["host"] = make([]string, 1)
		form["host"][0], folder = servertest.NewWebDAV(t)
	case "s3":
		form["host"], form["folder"] = make([]string, 1), []string{servertest.StoredIn}
		form["host"][0], folder = servertest.NewS3(t)
	}
	server := &http.Server{Handler: http.FileServer(http.Dir(folder)), ReadHeaderTimeout: time.Minute}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = server.Serve(l) }()
	t.Cleanup(func() { _ = server.Shutdown(context.Background()) })
	h, kill := killable(t, data)
	post := func(at string, form url.Values) {
		t.Helper()
		res, err := h.client.PostForm(h.app+at, form)
		require.NoError(t, err)
		res.Body.Close()
		require.Less(t, res.StatusCode, 400)
	}
	screen := func(at string) *goquery.Document {
		t.Helper()
		res, err := h.client.Get(h.app + at)
		require.NoError(t, err)
		defer res.Body.Close()
		doc, err := goquery.NewDocumentFromReader(res.Body)
		require.NoError(t, err)
		return doc
	}
	form.Set("base", "http://"+l.Addr().String())
	if kind == "sftp" {
		ssh := servertest.NewSSH(t)
		form.Del("password")
		form.Set("host", ssh.Host)
		form.Set("login", ssh.Login)
		post("/destinations", form)
		post("/destinations/1/trust", url.Values{"key": {ssh.HostKey}})
		ssh.Allow(t, screen("/destinations/1").Find("#public-key").AttrOr("value", ""))
	} else {
		post("/destinations", form)
	}
	post("/destinations/1/send", nil)
	count := func() (n int) {
		_ = filepath.WalkDir(folder, func(at string, d fs.DirEntry, err error) error {
			if err == nil && !d.IsDir() && !strings.Contains(at, ".mivlet") {
				n++
			}
			return nil
		})
		return n
	}
	for _, until := range []int{3, 40, 75, 76, 160} {
		require.Eventually(t, func() bool { return count() >= until }, patience, time.Millisecond)
		kill()
		wholeFolder(t, folder, "")
		h, kill = killable(t, data)
	}
	done := func() bool {
		return strings.Contains(screen("/destinations/1/now").Find(".state").Text(), "Everything is there")
	}
	require.Eventually(t, done, patience, 50*time.Millisecond)
	wholeFolder(t, folder, "")
	assert.NoDirExists(t, filepath.Join(folder, ".mivlet-parts"))
	assert.Contains(t, screen("/destinations/1/plan").Text(), "Nothing: everything is there.")
	kill()
	sound(t, data)
}

// wholeFolder asserts that no page in a folder shows what is not there.
func wholeFolder(t *testing.T, folder, under string) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(folder, func(at string, d fs.DirEntry, err error) error {
		if err != nil || path.Ext(at) != ".html" {
			return err
		}
		doc, err := goquery.NewDocumentFromReader(strings.NewReader(contents(t, at)))
		require.NoError(t, err)
		doc.Find("[src], link[rel=stylesheet]").Each(func(_ int, s *goquery.Selection) {
			to := s.AttrOr("src", s.AttrOr("href", ""))
			_, err := os.Stat(filepath.Join(folder, strings.TrimPrefix(to, under)))
			assert.NoError(t, err, "%s shows %s", at, to)
		})
		return nil
	}))
}
