package site_test

import (
	"fmt"

	"mivlet/core/site"
)

// A page is rewritten for a server that shows it under /paddle: the picture's name carries the mark
// of its content.
func ExampleRewrite() {
	base, err := site.ParseBase("https://club.example/paddle")
	if err != nil {
		panic(err)
	}
	page := `<a href="/juniors"><img src="/juniors/boat.jpg?v=0123456789abcdef" alt="A boat"></a>`
	out, err := site.Rewrite([]byte(page), "/", "index.html", site.Links{Base: base}, func(r site.Ref) (string, bool) {
		if r.Query != "" {
			return site.MarkedFile(r.Path, "0123456789abcdef"), true
		}
		return site.PageFile(r.Path), true
	})
	fmt.Println(string(out), err)
	// Output: <a href="/paddle/juniors/"><img src="/paddle/juniors/boat-0123456789abcdef.jpg" alt="A boat"></a> <nil>
}
