// Package reference runs the independent programs that tests hold Mivlet
// against. scripts/test installs them.
package reference

import (
	"os"
	"os/exec"
	"testing"
)

// Run runs a program and returns what it prints. The test fails where the
// program does. Without the program it is skipped, loudly, and fails in CI.
func Run(t *testing.T, name string, args ...string) string {
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
	out, err := exec.Command(path, args...).CombinedOutput()
	if err != nil {
		t.Fatalf("%s %v: %v\n%s", name, args, err, out)
	}
	return string(out)
}
