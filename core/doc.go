// Package core is the root of Mivlet's rules and computation. Its packages are
// pure Go: readers, writers and values, without HTTP, SQL, templates, a clock
// or file paths. Each answers one question:
//
//	facts   what is this file, judged by its bytes?
//	fit     which pixels does this slot need from this picture?
//	layout  how wide is each slot on each screen?
//	recipe  which edits lead from the original to what is shown?
//	raster  pixels in, pixels out
//	veil    hide a region so that nobody can bring it back
//	naming  does this name follow the convention, and which name would?
//	words   is this alt text one?
//	rules   what has the house agreed on?
//	page    the page document, to clean HTML
//	audit   what falls short, and which step mends it?
package core
