package e2e

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image/png"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/demo"
)

// What lighter files would save is tried on the house's own photos before it is decided. From then on a
// page is live at once with its JPEG files; the lighter ones are made beside the work, with their
// progress at the page, and a browser loads them without anybody doing a thing.
func TestLighterFilesComeByThemselves(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	p := open(t, b, h.app+"/rules?part=slots", 1280, 800, 1)
	apply := func(why string) {
		t.Helper()
		write(t, p, "#rules-why", why)
		hit(t, p, ".pending .primary", "Apply")
		waitText(t, p, ".pending", "Nothing is changed")
	}
	sharper := slices.DeleteFunc(demo.Rules().Slots, func(s rules.Slot) bool { return slices.Equal(s.Densities, []float64{1}) })
	for i, slot := range sharper { // as few and as small files as show what this is about
		at := "/slots/" + slot.ID
		hit(t, p, fmt.Sprintf(`[id="t%s"] summary`, at))
		write(t, p, fmt.Sprintf(`[id="r%s/densities"]`, at), "1")
		waitFor(t, p, fmt.Sprintf(`document.querySelectorAll('.changes li').length > %d`, i))
	}
	apply("small files")
	p.MustNavigate(h.app + "/rules?part=limits").MustWaitLoad()
	calm(t, p)
	hit(t, p, "#lighter-trial button", "Try it")
	waitText(t, p, "#lighter-trial", `2 photos[\s\S]*AVIF: [\s\S]*WebP: [\s\S]*avif, webp`)
	accessible(t, p, "what lighter files save")
	write(t, p, `[id="r/placing/lighter"]`, "webp") // avif takes as long again for each test
	waitText(t, p, ".changes", "lighter files beside JPEG")
	apply("pages of less weight")

	p.MustNavigate(h.app + "/pages/4").MustWaitLoad()
	calm(t, p)
	hit(t, p, ".panel .primary", "Publish again")
	waitText(t, p, "#lighter-files", "wait for their turn|sets made")
	accessible(t, p, "a page whose lighter files are made")
	visitor := open(t, b, p.MustElement(".report-when a, .report a").MustProperty("href").Str(), 1280, 800, 1)
	assert.Contains(t, visitor.MustElement("main figure img").MustProperty("currentSrc").Str(), ".jpg", "it is live already")
	for done := range 4 { // each of its four sets takes its time
		waitFor(t, p, fmt.Sprintf(`!document.querySelector('#lighter-files') || Number(document.querySelector('#lighter-files').innerText.match(/: (\d+) of/)?.[1] ?? 0) > %d`, done))
	}

	at := visitor.MustInfo().URL
	visitor.MustNavigate(at).MustWaitLoad()
	waitFor(t, visitor, `document.querySelector('main figure img').complete`)
	img := visitor.MustElement("main figure img")
	assert.Contains(t, img.MustProperty("currentSrc").Str(), ".webp")
}

// In a browser, an AVIF shows what was written: of no channel is a pixel off by more than 7 of 255 on
// average, and the mean of none by more than 1.
func TestABrowserShowsAVIFAsItWas(t *testing.T) {
	f, err := os.Open(demoPicture(t, "DSC_0430.JPG"))
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	source, err := raster.Decode(f, known, raster.Limits{})
	require.NoError(t, err)
	cut := source.Cut(source.Upright().Rect(), fit.ByWidth(source.Upright(), 240))
	made, err := raster.Encode(cut, raster.Options{Format: raster.AVIF})
	require.NoError(t, err)
	var was bytes.Buffer
	require.NoError(t, png.Encode(&was, cut))

	p := open(t, browser(t), "about:blank", 400, 300, 1)
	off := p.MustEval(`async (avif, png) => {
		const pixels = async (type, data) => {
			const img = new Image();
			img.src = 'data:' + type + ';base64,' + data;
			await img.decode();
			const c = Object.assign(document.createElement('canvas'), { width: img.width, height: img.height }).getContext('2d');
			c.drawImage(img, 0, 0);
			return c.getImageData(0, 0, img.width, img.height).data;
		};
		const a = await pixels('image/avif', avif), b = await pixels('image/png', png);
		if (a.length !== b.length) return null;
		return [0, 1, 2].map((c) => {
			let off = 0, sum = 0;
			for (let i = c; i < a.length; i += 4) (off += Math.abs(a[i] - b[i])), (sum += a[i] - b[i]);
			return [(4 * off) / a.length, Math.abs((4 * sum) / a.length)];
		}).flat();
	}`, base64.StdEncoding.EncodeToString(made.Data), base64.StdEncoding.EncodeToString(was.Bytes())).Arr()
	require.Len(t, off, 6)
	for i, v := range off {
		assert.Less(t, v.Num(), []float64{7, 1}[i%2], "%v", off)
	}
}
