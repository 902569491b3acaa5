package bench

import (
	"bufio"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"
)

// BenchmarkHouses opens houses of one program one after the other, and tells how long the door of each took and what each
// takes of memory. MIVLET_HOUSES says how many; 400 where it says nothing.
func BenchmarkHouses(b *testing.B) {
	n, err := strconv.Atoi(os.Getenv("MIVLET_HOUSES"))
	if err != nil {
		n = 400
	}
	dir := b.TempDir()
	program := filepath.Join(dir, "mivlet")
	build := exec.Command("go", "build", "-o", program, "../cmd/mivlet")
	build.Env = append(os.Environ(), "CGO_ENABLED=0")
	if out, err := build.CombinedOutput(); err != nil {
		b.Fatal(err, string(out))
	}
	all := filepath.Join(dir, "houses")
	name := func(i int) string { return fmt.Sprintf("house-%d.district.example", i) }
	for i := range n {
		if err := os.MkdirAll(filepath.Join(all, name(i)), 0o700); err != nil {
			b.Fatal(err)
		}
	}
	cmd := exec.Command(program, "serve", "--houses", all, "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0")
	cmd.Env = append(os.Environ(), "PATH=")
	out, err := cmd.StdoutPipe()
	if err != nil {
		b.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		b.Fatal(err)
	}
	defer func() { _ = cmd.Process.Signal(os.Interrupt); _ = cmd.Wait() }()
	lines := bufio.NewScanner(out)
	at := ""
	for at == "" && lines.Scan() {
		if rest, ok := strings.CutPrefix(lines.Text(), "Mivlet "); ok {
			at, _, _ = strings.Cut(strings.TrimSpace(rest), ",")
		}
	}
	ask := func(i int) time.Duration {
		req, err := http.NewRequest(http.MethodGet, "http://"+at+"/sign-in", nil)
		if err != nil {
			b.Fatal(err)
		}
		req.Host = name(i)
		begun := time.Now()
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			b.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode >= http.StatusInternalServerError {
			b.Fatal(res.Status)
		}
		return time.Since(begun)
	}
	before := resident(b, cmd.Process.Pid)
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
		b.ReportMetric(float64(resident(b, cmd.Process.Pid)-before)/float64(n)/1e6, "MB/house")
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
