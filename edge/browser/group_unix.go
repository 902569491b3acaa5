//go:build !windows

package browser

import (
	"os/exec"
	"syscall"
)

// inGroup has a program end with all that it has started.
func inGroup(c *exec.Cmd) {
	c.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	c.Cancel = func() error { return syscall.Kill(-c.Process.Pid, syscall.SIGKILL) }
}
