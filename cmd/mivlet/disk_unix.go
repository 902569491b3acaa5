//go:build !windows

package main

import "golang.org/x/sys/unix"

// diskOf returns how many bytes are free where a folder lies, for whoever runs the program, and how many
// there are.
func diskOf(dir string) (free, all int64, err error) {
	var s unix.Statfs_t
	if err := unix.Statfs(dir, &s); err != nil {
		return 0, 0, err
	}
	return int64(s.Bavail) * int64(s.Bsize), int64(s.Blocks) * int64(s.Bsize), nil //nolint:gosec,unconvert // disks are smaller than 8 EB; the types differ between systems
}
