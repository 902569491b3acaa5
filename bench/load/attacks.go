package main

import (
	"bytes"
	"flag"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"strings"
	"sync"
	"time"

	"mivlet/internal/heavy"
)

var attacks = flag.Bool("attacks", false, "measure files and sign-ins that would exhaust the machine instead")

// attack sends what would exhaust the machine, one kind after the other, and tells how
// long it took and how much memory the program held at most since it was started.
func attack(program string) error {
	for _, one := range []struct {
		name string
		do   func(h house) string
	}{
		{"a PNG of 0.9 MB, 120 megapixels of 16 bits", func(h house) string { return h.send("deep.png", heavy.DeepPNG(15_000, 8_000)) }},
		{"three of them, 60 megapixels each, with a tile of each at once", func(h house) string {
			var all sync.WaitGroup
			for n := range 3 {
				all.Go(func() {
					h.send(fmt.Sprintf("deep%d.png", n), heavy.DeepPNG(10_000+n, 6_000))
				})
			}
			all.Wait()
			return "sent"
		}},
		{"a GIF of 30,000 frames", func(h house) string { return h.send("many.gif", heavy.ManyFrames(30_000, 60)) }},
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
	cmd, h, stop, err := onFreshHouse(program)
	if err != nil {
		return err
	}
	defer stop()
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
