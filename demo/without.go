//go:build withoutdemo

package demo

import "embed"

// What is released comes without the pictures of the demo, which are a fifth of it.
var pictures embed.FS
