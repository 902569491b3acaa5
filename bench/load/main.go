// Load measures how many screens a second one Mivlet draws for many at once: it lays a
// house out in a program that it starts, asks for each screen over a number of lines for
// a while, and tells how many were answered and how long the slowest took. Everything
// stays on this machine.
//
//	go build -o mivlet ./cmd/mivlet
//	go run ./bench/load ./mivlet [./another-mivlet ...]
//	go run ./bench/load -attacks ./mivlet
package main

import (
	"bufio"
	"bytes"
	"errors"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

var (
	pages    = flag.Int("pages", 30, "live pages of the house")
	pictures = flag.Int("pictures", 8, "pictures on each")
	lines    = flag.Int("lines", 50, "lines that ask at once")
	length   = flag.Duration("for", 6*time.Second, "how long each screen is asked for")
)

func main() {
	flag.Parse()
	for _, program := range flag.Args() {
		do := measure
		if *attacks {
			fmt.Println(program)
			do = attack
		}
		if err := do(program); err != nil {
			fmt.Fprintf(os.Stderr, "%s: %v\n", program, err)
			os.Exit(1)
		}
	}
}

// house is a running program.
type house struct {
	app, site string
	client    *http.Client
}

func measure(program string) error {
	_, h, stop, err := onFreshHouse(program)
	if err != nil {
		return err
	}
	defer stop()
	picture, page, err := h.layOut()
	if err != nil {
		return fmt.Errorf("the house could not be laid out: %w", err)
	}
	fmt.Printf("%s: %d live pages of %d pictures, %d lines, %s each\n", program, *pages, *pictures, *lines, *length)
	for _, screen := range []struct{ name, at string }{
		{"Pages", h.app + "/pages"}, {"Arrivals", h.app + "/arrivals"}, {"a bench screen", h.app + "/bench/" + picture},
		{"a page screen", h.app + "/pages/" + page}, {"a live page", h.site + "/juniors/load-1"},
	} {
		h.ask(screen.name, screen.at)
	}
	return nil
}

// onFreshHouse runs a program with its demo in a folder of its own; stop ends it and takes
// the folder away.
func onFreshHouse(program string) (cmd *exec.Cmd, h house, stop func(), err error) {
	dir, err := os.MkdirTemp("", "mivlet-load-")
	if err != nil {
		return nil, house{}, nil, err
	}
	if cmd, h, err = start(program, dir); err != nil {
		return nil, house{}, nil, errors.Join(err, os.RemoveAll(dir))
	}
	return cmd, h, func() { end(cmd); _ = os.RemoveAll(dir) }, nil
}

// start runs a program with its demo in a folder.
func start(program, dir string) (*exec.Cmd, house, error) {
	cmd := exec.Command(program, "demo", "--data", dir, "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0")
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, house{}, err
	}
	if err := cmd.Start(); err != nil {
		return nil, house{}, err
	}
	h, err := find(out)
	return cmd, h, err
}

func end(cmd *exec.Cmd) {
	_ = cmd.Process.Signal(os.Interrupt)
	_ = cmd.Wait()
}

// find reads the addresses that the program tells.
func find(out io.Reader) (house, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return house{}, err
	}
	h := house{client: &http.Client{Jar: jar, Timeout: time.Minute, Transport: &http.Transport{MaxIdleConnsPerHost: *lines, MaxConnsPerHost: *lines},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}
	told := bufio.NewScanner(out)
	for h.site == "" && told.Scan() {
		if at, ok := strings.CutPrefix(told.Text(), "Mivlet "); ok {
			h.app = strings.TrimSpace(at)
		}
		if at, ok := strings.CutPrefix(told.Text(), "Practice site "); ok {
			h.site = strings.TrimSpace(at)
		}
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	if h.site == "" {
		return h, errors.New("the program did not say where it is")
	}
	return h, nil
}

func (h house) get(at string) (string, error) {
	res, err := h.client.Get(at)
	if err != nil {
		return "", err
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	return string(text), err
}

func (h house) post(at string, form url.Values) (string, error) {
	res, err := h.client.PostForm(h.app+at, form)
	if err != nil {
		return "", err
	}
	defer res.Body.Close()
	if text, _ := io.ReadAll(res.Body); res.StatusCode >= 400 {
		return "", fmt.Errorf("%s: %s: %.300s", at, res.Status, text)
	}
	return res.Header.Get("Location"), nil
}

// layOut brings pictures in and places them on pages, which it publishes.
func (h house) layOut() (picture, page string, err error) {
	if _, err := h.post("/sign-in/demo", url.Values{"person": {"1"}}); err != nil {
		return "", "", err
	}
	var ids []string
	for n := range *pictures {
		name := fmt.Sprintf("load-%d.jpg", n)
		req, err := http.NewRequest(http.MethodPost, h.app+"/arrivals?section=juniors", bytes.NewReader(photo(n)))
		if err != nil {
			return "", "", err
		}
		req.Header.Set("X-File-Name", name)
		res, err := h.client.Do(req)
		if err != nil {
			return "", "", err
		}
		text, _ := io.ReadAll(res.Body)
		res.Body.Close()
		found := regexp.MustCompile(`id="arrival-(\d+)"`).FindSubmatch(text)
		if found == nil {
			return "", "", fmt.Errorf("a picture did not arrive: %s", text)
		}
		id := string(found[1])
		if _, err := h.post("/arrivals/send", url.Values{"picture": {id}, "slot": {"side"}, "section": {"juniors"}, "subject": {fmt.Sprintf("Load number %d", n)}}); err != nil {
			return "", "", err
		}
		shown, err := h.get(h.app + "/bench/" + id)
		if err != nil {
			return "", "", err
		}
		if _, err := h.post("/bench/"+id+"/words", url.Values{"alt": {fmt.Sprintf("Stripes of picture number %d", n)}, "seen": {attribute(shown, "data-step")}}); err != nil {
			return "", "", err
		}
		ids = append(ids, id)
	}
	for n := range *pages {
		at, err := h.post("/pages", url.Values{"section": {"juniors"}, "title": {fmt.Sprintf("Load %d", n)}, "arrangement": {"empty"}})
		if err != nil {
			return "", "", err
		}
		page = at[strings.LastIndex(at, "/")+1:]
		for _, id := range ids {
			if _, err := h.post("/pages/"+page+"/insert", url.Values{"picture": {id}, "slot": {"side"}, "side": {"none"}}); err != nil {
				return "", "", err
			}
		}
		shown, err := h.get(h.app + "/pages/" + page)
		if err != nil {
			return "", "", err
		}
		if _, err := h.post("/pages/"+page+"/publish", url.Values{"version": {attribute(shown, "data-version")}, "seen": {attribute(shown, "data-seen")}, "reason": {"It is here to be measured."}}); err != nil {
			return "", "", err
		}
	}
	return ids[0], page, nil
}

func attribute(html, name string) string {
	_, rest, _ := strings.Cut(html, name+`="`)
	value, _, _ := strings.Cut(rest, `"`)
	return value
}

// photo is a picture of stripes.
func photo(n int) []byte {
	m := image.NewRGBA(image.Rect(0, 0, 900, 700))
	for y := range 700 {
		for x := range 900 {
			m.Set(x, y, color.RGBA{uint8(x * (n + 2)), uint8(y), uint8(40 * n), 255})
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		panic(err)
	}
	return b.Bytes()
}

// ask asks for a screen over all lines.
func (h house) ask(name, at string) {
	if _, err := h.get(at); err != nil { // the first one works out what is open
		fmt.Printf("  %-16s %v\n", name, err)
		return
	}
	var mu sync.Mutex
	var took []time.Duration
	var failed atomic.Int64
	var all sync.WaitGroup
	begun := time.Now()
	for range *lines {
		all.Go(func() {
			for time.Since(begun) < *length {
				from := time.Now()
				res, err := h.client.Get(at)
				if err != nil {
					failed.Add(1)
					continue
				}
				_, err = io.Copy(io.Discard, res.Body)
				res.Body.Close()
				if err != nil || res.StatusCode != http.StatusOK {
					failed.Add(1)
					continue
				}
				mu.Lock()
				took = append(took, time.Since(from))
				mu.Unlock()
			}
		})
	}
	all.Wait()
	if len(took) == 0 {
		fmt.Printf("  %-16s none answered, %d failed\n", name, failed.Load())
		return
	}
	slices.Sort(took)
	fmt.Printf("  %-16s %8.1f a second, half within %v, 99 of 100 within %v, %d failed\n", name,
		float64(len(took))/time.Since(begun).Seconds(), took[len(took)/2].Round(time.Millisecond), took[len(took)*99/100].Round(time.Millisecond), failed.Load())
}
