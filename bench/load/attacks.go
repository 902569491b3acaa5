package main

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"flag"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"io"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"strings"
	"sync"
	"time"
)

var attacks = flag.Bool("attacks", false, "measure files and sign-ins that would exhaust the machine instead")

// attack sends what would exhaust the machine, one kind after the other, and tells how
// long it took and how much memory the program held at most since it was started.
func attack(program string) error {
	for _, one := range []struct {
		name string
		do   func(h house) string
	}{
		{"a PNG of 0.9 MB, 120 megapixels of 16 bits", func(h house) string { return h.send("deep.png", deepPNG(15_000, 8_000)) }},
		{"three of them, 60 megapixels each, with a tile of each at once", func(h house) string {
			var all sync.WaitGroup
			for n := range 3 {
				all.Go(func() {
					h.send(fmt.Sprintf("deep%d.png", n), deepPNG(10_000+n, 6_000))
				})
			}
			all.Wait()
			return "sent"
		}},
		{"a GIF of 30,000 frames", func(h house) string { return h.send("many.gif", manyFrames(30_000)) }},
		{"60 sign-ins at once", func(h house) string {
			var all sync.WaitGroup
			tried := map[int]int{}
			var mu sync.Mutex
			for n := range 60 {
				all.Go(func() {
					res, err := h.client.PostForm(h.app+"/sign-in", url.Values{"login": {"ines"}, "password": {fmt.Sprint("guess ", n)}})
					if err != nil {
						return
					}
					res.Body.Close()
					mu.Lock()
					tried[res.StatusCode]++
					mu.Unlock()
				})
			}
			all.Wait()
			return fmt.Sprint("answers by status: ", tried)
		}},
	} {
		if err := measureAttack(program, one.name, one.do); err != nil {
			return err
		}
	}
	return nil
}

func measureAttack(program, name string, do func(h house) string) error {
	dir, err := os.MkdirTemp("", "mivlet-attack-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	cmd, h, err := start(program, dir)
	if err != nil {
		return err
	}
	defer end(cmd)
	if _, err := h.post("/sign-in/demo", url.Values{"person": {"1"}}); err != nil {
		return err
	}
	time.Sleep(5 * time.Second) // the demo makes its previews first
	before := peak(cmd)
	begun := time.Now()
	said := do(h)
	fmt.Printf("  %-64s %6.1f s, peak %4d MB (%d before): %s\n", name, time.Since(begun).Seconds(), peak(cmd), before, said)
	return nil
}

// send brings a file in and tells the answer.
func (h house) send(name string, data []byte) string {
	req, err := http.NewRequest(http.MethodPost, h.app+"/arrivals?section=juniors", bytes.NewReader(data))
	if err != nil {
		return err.Error()
	}
	req.Header.Set("X-File-Name", name)
	req.Header.Set("HX-Request", "true")
	res, err := h.client.Do(req)
	if err != nil {
		return err.Error()
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(res.Body)
	_, told, _ := strings.Cut(string(text), "<strong>")
	told, _, _ = strings.Cut(told, "</strong>")
	return fmt.Sprintf("%d %s", res.StatusCode, told)
}

// peak is the most memory that a program has held, in MB.
func peak(cmd *exec.Cmd) int {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", cmd.Process.Pid))
	if err != nil {
		return 0
	}
	_, rest, _ := strings.Cut(string(status), "VmHWM:")
	kilo := 0
	_, _ = fmt.Sscan(rest, &kilo)
	return kilo / 1000
}

// deepPNG is a PNG of 16 bits for each of four channels that packs to nearly nothing.
func deepPNG(w, h int) []byte {
	var out bytes.Buffer
	out.WriteString("\x89PNG\r\n\x1a\n")
	chunk := func(kind string, body []byte) {
		_ = binary.Write(&out, binary.BigEndian, uint32(len(body)))
		out.WriteString(kind)
		out.Write(body)
		_ = binary.Write(&out, binary.BigEndian, crc32.ChecksumIEEE(append([]byte(kind), body...)))
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, uint32(w)), uint32(h))
	chunk("IHDR", append(head, 16, 6, 0, 0, 0))
	var packed bytes.Buffer
	z := zlib.NewWriter(&packed)
	row := make([]byte, 1+8*w)
	for range h {
		_, _ = z.Write(row)
	}
	_ = z.Close()
	chunk("IDAT", packed.Bytes())
	chunk("IEND", nil)
	return out.Bytes()
}

// manyFrames is a GIF of small frames.
func manyFrames(n int) []byte {
	g := gif.GIF{}
	for range n {
		g.Image = append(g.Image, image.NewPaletted(image.Rect(0, 0, 60, 60), color.Palette{color.White, color.Black}))
		g.Delay = append(g.Delay, 2)
	}
	var b bytes.Buffer
	if err := gif.EncodeAll(&b, &g); err != nil {
		panic(err)
	}
	return b.Bytes()
}
