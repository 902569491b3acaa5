package web

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"io/fs"
	"net/http"
	"path"
	"strings"
	"sync"
	"time"
)

//go:embed static
var staticFiles embed.FS

// staticTag changes with any of the static files, so that they can be cached
// for good. It is worked out when the first one is named: cutting a picture needs none.
var staticTag = sync.OnceValue(func() string {
	sum := sha256.New()
	err := fs.WalkDir(staticFiles, "static", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := staticFiles.ReadFile(name)
		sum.Write(data)
		return err
	})
	if err != nil {
		panic(err)
	}
	return hex.EncodeToString(sum.Sum(nil)[:6])
})

func staticURL(name string) string { return "/static/" + staticTag() + "/" + name }

var staticTypes = map[string]string{
	".css": "text/css; charset=utf-8", ".js": "text/javascript; charset=utf-8", ".woff2": "font/woff2", ".svg": "image/svg+xml",
}

// static serves one file and never a list of them. The first part of the path
// is the tag; modules find each other beside themselves.
func (s *server) static(w http.ResponseWriter, r *http.Request) {
	_, name, _ := strings.Cut(strings.TrimPrefix(r.URL.Path, "/static/"), "/")
	kind, ok := staticTypes[path.Ext(name)]
	data, err := staticFiles.ReadFile(path.Join("static", path.Clean("/"+name)))
	if !ok || err != nil {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(data))
}

func (s *server) contentCSS(w http.ResponseWriter, _ *http.Request) {
	w.Header().Set("Content-Type", "text/css; charset=utf-8")
	w.Header().Set("Cache-Control", "no-cache")
	_, _ = w.Write(s.opts.ContentCSS())
}
