package browser

import "os/exec"

// inGroup has a program end with all that it has started: here each ends when the first does.
func inGroup(*exec.Cmd) {}
