package recipe_test

import (
	"fmt"
	"image"

	"mivlet/core/fit"
	"mivlet/core/recipe"
)

// Edits are steps; what they come to is a view of the untouched original.
func ExampleRecipe_View() {
	source := fit.Size{W: 6000, H: 4000}
	r, err := recipe.Recipe{}.WithFrame(image.Rect(1000, 500, 4000, 2500), source)
	if err == nil {
		r, err = r.With(recipe.Edit{Op: recipe.OpTurn, Degrees: 90}, source)
	}
	if err != nil {
		panic(err)
	}
	v := r.View(source)
	fmt.Println(v.Frame, v.Seen().Size())
	fmt.Println(r.Undo().View(source).Seen().Size())
	// Output:
	// (1000,500)-(4000,2500) (2000,3000)
	// (3000,2000)
}
