// Package reference runs the independent programs that tests hold Mivlet
// against. scripts/test installs them.
package reference

import (
	"image"
	"image/png"
	"io"
	"os"
	"os/exec"
	"testing"
)

// Run runs a program and returns all that it prints. The test fails where the
// program does. Without the program it is skipped, loudly, and fails in CI.
func Run(t *testing.T, name string, args ...string) string {
	t.Helper()
	out, err := command(t, name, args).CombinedOutput()
	if err != nil {
		t.Fatalf("%s %v: %v\n%s", name, args, err, out)
	}
	return string(out)
}

// Output does the same, and returns what the program prints as its result, without
// what it says beside it.
func Output(t *testing.T, name string, args ...string) string {
	t.Helper()
	out, err := command(t, name, args).Output()
	if err != nil {
		t.Fatalf("%s %v: %v", name, args, err)
	}
	return string(out)
}

func command(t *testing.T, name string, args []string) *exec.Cmd {
	t.Helper()
	path := "/usr/bin/" + name // Debian's, whatever else is called so
	if _, err := os.Stat(path); err != nil {
		if path, err = exec.LookPath(name); err != nil {
			if os.Getenv("CI") != "" {
				t.Fatalf("%s is missing: scripts/test installs it", name)
			}
			t.Skipf("SKIPPED, NOT CHECKED: %s is missing. Run scripts/test, which installs it.", name)
		}
	}
	cmd := exec.Command(path, args...)
	cmd.Env = append(os.Environ(), "OMP_THREAD_LIMIT=1") // threads that wait for each other on few cores
	return cmd
}

// PNG reads a picture that a program wrote.
func PNG(t *testing.T, name string) image.Image { t.Helper(); return decoded(t, name, png.Decode) }

// Picture reads a picture of any type that the test has a decoder for.
func Picture(t *testing.T, name string) image.Image {
	t.Helper()
	return decoded(t, name, func(r io.Reader) (image.Image, error) {
		m, _, err := image.Decode(r)
		return m, err
	})
}

func decoded(t *testing.T, name string, decode func(io.Reader) (image.Image, error)) image.Image {
	t.Helper()
	f, err := os.Open(name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	m, err := decode(f)
	if err != nil {
		t.Fatalf("%s: %v", name, err)
	}
	return m
}
