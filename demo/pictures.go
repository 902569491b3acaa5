//go:build !withoutdemo

package demo

import "embed"

//go:embed pictures
var pictures embed.FS
