package e2e

import (
	"net/http"
	"net/http/httptest"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A resized animation as a real browser decodes it: its frames, their times,
// how often it plays, and its size (WebCodecs, ImageDecoder).
func TestABrowserSeesTheAnimationMove(t *testing.T) {
	dir := t.TempDir()
	out, err := exec.Command(program, "cut", demoPicture(t, "paddle-stroke.gif"), "--width", "300", "-o", dir, "--name", "a").CombinedOutput()
	require.NoError(t, err, "%s", out)
	out, err = exec.Command(program, "cut", demoPicture(t, "paddle-stroke.gif"), "--width", "240", "--format", "gif", "-o", dir, "--name", "a").CombinedOutput()
	require.NoError(t, err, "%s", out)
	files := httptest.NewServer(http.FileServer(http.Dir(dir)))
	defer files.Close()
	p := open(t, browser(t), files.URL+"/", 800, 600, 1)
	for name, width := range map[string]int{"a-300.webp": 300, "a-240.gif": 240} {
		kind := "image/" + filepath.Ext(name)[1:]
		seen := p.MustEval(`async (name, type) => {
			const d = new ImageDecoder({ data: (await fetch(name)).body, type });
			await d.completed; await d.tracks.ready;
			const track = d.tracks.selectedTrack;
			const times = [];
			let size;
			for (let i = 0; i < track.frameCount; i++) {
				const { image } = await d.decode({ frameIndex: i });
				times.push(image.duration / 1000); size = [image.displayWidth, image.displayHeight];
			}
			return { frames: track.frameCount, repeats: track.repetitionCount === Infinity, times, size };
		}`, "/"+name, kind)
		assert.Equal(t, 24, seen.Get("frames").Int(), name)
		assert.True(t, seen.Get("repeats").Bool(), "%s plays for ever", name)
		assert.Equal(t, width, seen.Get("size.0").Int(), name)
		first := seen.Get("times.0").Num()
		assert.Positive(t, first)
		for _, ms := range seen.Get("times").Arr() {
			assert.Equal(t, first, ms.Num(), "%s: every frame as long as before", name)
		}
	}
}
