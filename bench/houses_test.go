package bench

import (
	"bufio"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"
)

// district is a program with many houses.
type district struct {
	b   *testing.B
	cmd *exec.Cmd
	at  string         // where it is reached
	log *bufio.Scanner // what it logs
}

// manyHouses lays the folders of as many houses as MIVLET_HOUSES says, or of 400, and builds the program.
func manyHouses(b *testing.B) (program, dir string, n int) {
	b.Helper()
	n, err := strconv.Atoi(os.Getenv("MIVLET_HOUSES"))
	if err != nil {
		n = 400
	}
	program = filepath.Join(b.TempDir(), "mivlet")
	build := exec.Command("go", "build", "-o", program, "../cmd/mivlet")
	build.Env = append(os.Environ(), "CGO_ENABLED=0")
	if out, err := build.CombinedOutput(); err != nil {
		b.Fatal(err, string(out))
	}
	dir = filepath.Join(b.TempDir(), "houses")
	for i := range n {
		if err := os.MkdirAll(filepath.Join(dir, houseName(i)), 0o700); err != nil {
			b.Fatal(err)
		}
	}
	return program, dir, n
}

func houseName(i int) string { return fmt.Sprintf("house-%d.district.example", i) }

// serveHouses runs the program on houses.
func serveHouses(b *testing.B, program, dir string, more ...string) *district {
	b.Helper()
	d := &district{b: b, cmd: exec.Command(program, append([]string{"serve", "--houses", dir, "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0"}, more...)...)}
	d.cmd.Env = append(os.Environ(), "PATH=")
	out, err := d.cmd.StdoutPipe()
	if err != nil {
		b.Fatal(err)
	}
	log, err := d.cmd.StderrPipe()
	if err != nil {
		b.Fatal(err)
	}
	d.log = bufio.NewScanner(log)
	if err := d.cmd.Start(); err != nil {
		b.Fatal(err)
	}
	lines := bufio.NewScanner(out)
	for d.at == "" && lines.Scan() {
		if rest, ok := strings.CutPrefix(lines.Text(), "Mivlet "); ok {
			d.at, _, _ = strings.Cut(strings.TrimSpace(rest), ",")
			d.at = strings.TrimPrefix(d.at, "http://")
		}
	}
	return d
}

func (d *district) end() {
	_ = d.cmd.Process.Signal(os.Interrupt)
	_ = d.cmd.Wait()
}

// ask asks a house for a path, and tells how long that took.
func (d *district) ask(c *http.Client, i int, path string, form url.Values) time.Duration {
	d.b.Helper()
	method := http.MethodGet
	if form != nil {
		method = http.MethodPost
	}
	req, err := http.NewRequest(method, "http://"+d.at+path, strings.NewReader(form.Encode()))
	if err != nil {
		d.b.Fatal(err)
	}
	req.Host = houseName(i)
	if form != nil {
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	begun := time.Now()
	res, err := c.Do(req)
	if err != nil {
		d.b.Fatal(err)
	}
	_, _ = io.Copy(io.Discard, res.Body)
	res.Body.Close()
	if res.StatusCode >= http.StatusBadRequest {
		d.b.Fatal(path, res.Status)
	}
	return time.Since(begun)
}

// BenchmarkOffice tells how long the list of all houses takes, when none is open and nothing is known of them, and then.
func BenchmarkOffice(b *testing.B) {
	program, dir, n := manyHouses(b)
	d := serveHouses(b, program, dir)
	go func() {
		for d.log.Scan() {
		}
	}()
	for i := range n {
		d.ask(http.DefaultClient, i, "/sign-in", nil)
	}
	d.end()
	d = serveHouses(b, program, dir, "--office", houseName(0))
	defer d.end()
	jar, err := cookiejar.New(nil)
	if err != nil {
		b.Fatal(err)
	}
	c := &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	d.ask(c, 0, "/sign-in", nil)
	code := ""
	for code == "" && d.log.Scan() {
		_, code, _ = strings.Cut(d.log.Text(), "/first?code=")
	}
	d.ask(c, 0, "/first", url.Values{"name": {"Ines"}, "login": {"ines"}, "password": {"four words in a row"}, "code": {strings.Trim(code, `"`)}})
	for b.Loop() {
		b.ReportMetric(d.ask(c, 0, "/houses", nil).Seconds(), "s-first")
		b.ReportMetric(float64(d.ask(c, 0, "/houses", nil).Milliseconds()), "ms-then")
	}
}

// BenchmarkHouses opens houses of one program one after the other, and tells how long the door of each took and what each
// takes of memory. MIVLET_HOUSES says how many; 400 where it says nothing.
func BenchmarkHouses(b *testing.B) {
	program, dir, n := manyHouses(b)
	d := serveHouses(b, program, dir)
	defer d.end()
	go func() {
		for d.log.Scan() {
		}
	}()
	ask := func(i int) time.Duration { return d.ask(http.DefaultClient, i, "/sign-in", nil) }
	before := resident(b, d.cmd.Process.Pid)
	for b.Loop() {
		var first, last time.Duration
		for i := range n {
			took := ask(i)
			if i < 10 {
				first += took / 10
			}
			if i >= n-10 {
				last += took / 10
			}
		}
		b.ReportMetric(float64(first.Microseconds())/1e3, "ms-first-houses")
		b.ReportMetric(float64(last.Microseconds())/1e3, "ms-last-houses")
		b.ReportMetric(float64(resident(b, d.cmd.Process.Pid)-before)/float64(n)/1e6, "MB/house")
		again := time.Duration(0)
		for i := range 100 {
			again += ask(i*7%n) / 100
		}
		b.ReportMetric(float64(again.Microseconds())/1e3, "ms-again")
	}
}

var residentSize = regexp.MustCompile(`VmRSS:\s+(\d+) kB`)

// resident is how much memory a program takes, in bytes.
func resident(b *testing.B, pid int) int64 {
	b.Helper()
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		b.Fatal(err)
	}
	kb, err := strconv.ParseInt(string(residentSize.FindSubmatch(status)[1]), 10, 64)
	if err != nil {
		b.Fatal(err)
	}
	return kb * 1024
}
