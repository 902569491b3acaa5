package under_test

import (
	"io"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/under"
)

func TestParse(t *testing.T) {
	for path, want := range map[string]string{"": "", "/": "", "/mivlet": "/mivlet", "/mivlet/": "/mivlet", "/a/b-c/d.e_f": "/a/b-c/d.e_f"} {
		got, err := under.Parse(path)
		require.NoError(t, err, path)
		assert.Equal(t, want, got)
	}
	for _, path := range []string{"mivlet", "//mivlet", "/a//b", "/a b", "/a?b", "/..", "/a/../b", "/.", "/a\"b", "/a<b", "https://club.example/a", "/ü", "/a%20b"} {
		_, err := under.Parse(path)
		assert.ErrorContains(t, err, "/mivlet", path)
	}
}

// What is asked for below the path is asked of the program without it; where the program leads, the path
// comes before.
func TestPath(t *testing.T) {
	h := under.Path("/a/mivlet", http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/to":
			w.Header().Set(r.FormValue("name"), r.FormValue("to"))
			w.WriteHeader(http.StatusSeeOther)
		case "/quiet":
			w.Header().Set("HX-Redirect", "/bench/3")
			_, _ = io.WriteString(w, "done")
		case "/silent":
			w.Header().Set("HX-Redirect", "/ruler/1")
		case "/flushed":
			assert.NoError(t, http.NewResponseController(w).Flush())
		default:
			_, _ = io.WriteString(w, r.URL.RequestURI()+" "+r.URL.EscapedPath())
		}
	}))
	ask := func(at string) *httptest.ResponseRecorder {
		w := httptest.NewRecorder()
		h.ServeHTTP(w, httptest.NewRequest(http.MethodGet, at, nil))
		return w
	}
	assert.Equal(t, "/pages/4?x=1 /pages/4", ask("/a/mivlet/pages/4?x=1").Body.String())
	assert.Equal(t, "/former/1/was/a%2Fb /former/1/was/a%2Fb", ask("/a/mivlet/former/1/was/a%2Fb").Body.String(), "what is escaped stays so")
	for _, at := range []string{"/", "/a/mivlet"} {
		assert.Equal(t, "/a/mivlet/", ask(at).Header().Get("Location"), at)
	}
	for _, at := range []string{"/a/mivletto", "/a/", "/pages", "/a/mivle", "/A/mivlet/", "//a/mivlet/"} {
		assert.Equal(t, http.StatusNotFound, ask(at).Code, at)
	}
	for _, name := range []string{"Location", "HX-Redirect", "HX-Location", "HX-Push-Url", "HX-Replace-Url"} {
		for to, want := range map[string]string{"/bench/3": "/a/mivlet/bench/3", "/a/mivlet": "/a/mivlet/a/mivlet", "//elsewhere.example/x": "//elsewhere.example/x", "https://club.example/x": "https://club.example/x", "next": "next", "": ""} {
			w := httptest.NewRecorder()
			r := httptest.NewRequest(http.MethodGet, "/a/mivlet/to", nil)
			r.Form = map[string][]string{"name": {name}, "to": {to}}
			h.ServeHTTP(w, r)
			assert.Equal(t, want, w.Header().Get(name), "%s to %q", name, to)
		}
	}
	assert.Equal(t, "/a/mivlet/bench/3", ask("/a/mivlet/quiet").Header().Get("HX-Redirect"))
	assert.Equal(t, "/a/mivlet/ruler/1", ask("/a/mivlet/silent").Result().Header.Get("HX-Redirect"), "without a body, and without a status")
	assert.True(t, ask("/a/mivlet/flushed").Flushed)
	plain := http.NotFoundHandler()
	assert.Equal(t, http.StatusNotFound, func() int {
		w := httptest.NewRecorder()
		under.Path("", plain).ServeHTTP(w, httptest.NewRequest(http.MethodGet, "/", nil))
		return w.Code
	}())
}
