package carry_test

import (
	"fmt"

	"mivlet/core/carry"
)

func ExampleRead() {
	p, _ := carry.Read([]byte(`<title>Club</title><h1>Summer camp</h1><p>We were <b>forty</b>.<img src="pier.jpg" alt="Two boats">`), carry.Options{})
	fmt.Println(p.Title)
	for _, b := range p.Blocks {
		fmt.Println(b.Kind, b.Text+b.Address)
	}
	// Output:
	// Summer camp
	// words We were **forty**.
	// picture pier.jpg
}
