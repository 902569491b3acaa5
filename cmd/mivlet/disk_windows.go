package main

import "golang.org/x/sys/windows"

// diskOf returns how many bytes are free where a folder lies, for whoever runs the program, and how many
// there are.
func diskOf(dir string) (free, all int64, err error) {
	name, err := windows.UTF16PtrFromString(dir)
	if err != nil {
		return 0, 0, err
	}
	var left, whole uint64
	err = windows.GetDiskFreeSpaceEx(name, &left, &whole, nil)
	return int64(left), int64(whole), err //nolint:gosec // disks are smaller than 8 EB
}
