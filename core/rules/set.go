package rules

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/naming"
)

// Set returns the rules with the value at a path changed to what was typed. The
// path is as in [Change]; lists of plain values are typed with commas between.
// It fails with [Faults] where the path leads nowhere or the text is no value
// for it. Whether the rules still hold is for [Rules.Check] to say.
func (r Rules) Set(path, typed string) (Rules, error) {
	out := r.clone()
	v, err := out.at(path)
	if err != nil {
		return r, err
	}
	if err := assign(v, strings.TrimSpace(typed)); err != nil {
		return r, Faults{{path, err.Error()}}
	}
	if at, ok := strings.CutSuffix(path, "/do"); ok {
		if v, err := out.at(at); err == nil && v.Type() == reflect.TypeFor[Type]() {
			t := v.Addr().Interface().(*Type)
			t.settle()
		}
	}
	return out.Resolved(), nil
}

// settle makes the rest of a type fit what is done with it: what is converted becomes a PNG, which
// loses nothing, until the house says otherwise.
func (t *Type) settle() {
	switch {
	case t.Do != Convert:
		t.To = ""
	case t.To == "":
		t.To = "image/png"
	}
}

// clone is a copy that shares nothing.
func (r Rules) clone() *Rules {
	var out Rules
	if err := json.Unmarshal(r.Encode(), &out); err != nil {
		panic(err) // just written
	}
	return &out
}

// at leads to the value at a path.
func (r *Rules) at(path string) (reflect.Value, error) {
	v := reflect.ValueOf(r).Elem()
	steps := strings.Split(strings.TrimPrefix(path, "/"), "/")
	for i := 0; i < len(steps); i++ {
		var ok bool
		switch v.Kind() {
		case reflect.Struct:
			v, ok = field(v, steps[i])
		case reflect.Slice:
			key := steps[i]
			if v.Type().Elem() == reflect.TypeFor[Type]() && i+1 < len(steps) { // media types hold a slash
				key, i = key+"/"+steps[i+1], i+1
			}
			var at int
			if at, ok = indexOf(v, key); ok {
				v = v.Index(at)
			}
		}
		if !ok {
			return v, Faults{{path, "there is no such place in the rules"}}
		}
	}
	return v, nil
}

// field finds a field by its JSON name.
func field(v reflect.Value, name string) (reflect.Value, bool) {
	for i := range v.NumField() {
		if tag, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ","); tag == name {
			return v.Field(i), true
		}
	}
	return v, false
}

// indexOf finds an element of a list by what it is called.
func indexOf(list reflect.Value, key string) (int, bool) {
	for i := range list.Len() {
		for _, name := range keyFields {
			if f, ok := field(list.Index(i), name); ok && f.String() == key {
				return i, true
			}
		}
	}
	return 0, false
}

// assign reads a typed value into a field.
func assign(v reflect.Value, typed string) error {
	switch v.Kind() {
	case reflect.String:
		v.SetString(typed)
	case reflect.Bool:
		v.SetBool(typed == "yes" || typed == "on" || typed == "true")
	case reflect.Int, reflect.Int64:
		if typed == "" {
			typed = "0"
		}
		n, err := strconv.ParseInt(strings.NewReplacer(",", "", " ", "", "\u202f", "").Replace(typed), 10, 64)
		if err != nil {
			return fmt.Errorf("%q is no whole number", typed)
		}
		v.SetInt(n)
	case reflect.Float64:
		if typed == "" {
			typed = "0"
		}
		n, err := strconv.ParseFloat(typed, 64)
		if err != nil || n != n {
			return fmt.Errorf("%q is no number", typed)
		}
		v.SetFloat(n)
	case reflect.Slice:
		list := reflect.MakeSlice(v.Type(), 0, 4)
		for _, part := range strings.FieldsFunc(typed, func(r rune) bool { return r == ',' || r == '\n' }) {
			if part = strings.TrimSpace(part); part == "" {
				continue
			}
			one := reflect.New(v.Type().Elem()).Elem()
			if err := assign(one, part); err != nil {
				return err
			}
			list = reflect.Append(list, one)
		}
		v.Set(list)
	default:
		return fmt.Errorf("%q cannot be typed here: it is not one value but several", typed)
	}
	return nil
}

// Add returns the rules with a new element in a list: "slots", "sections", "categories",
// "spots", "patterns" or "parts". key is what it will be called.
func (r Rules) Add(list, key, title string) (Rules, error) {
	out := r.clone()
	at := "/" + list + "/" + key
	switch list {
	case "slots":
		out.Slots = append(out.Slots, Slot{ID: key, Title: title, Purpose: "", Width: 400, Densities: Screens, Budget: 200_000})
	case "sections":
		out.Sections = append(out.Sections, Section{Code: key, Title: title, Sign: r.freeSign(), Folder: key})
	case "categories":
		out.Categories = append(out.Categories, Category{Code: key, Title: title})
	case "spots":
		out.Spots = append(out.Spots, addSpot(key, title))
	case "patterns":
		out.Page.Patterns = append(out.Page.Patterns, Pattern{ID: key, Title: title, Shares: []float64{1, 1}})
		at = "/page" + at
	case "parts":
		p := naming.Part{Kind: naming.Kind(key)}
		switch p.Kind {
		case naming.Taken, naming.Today:
			p.Form = naming.DateForms[0]
		case naming.Number:
			p.Width, p.Start = 2, 1
		}
		out.Naming.Parts = append(out.Naming.Parts, p)
		at = "/naming" + at
	default:
		return r, Faults{{"/" + list, "nothing can be added there"}}
	}
	return r.with(out, at)
}

// AddType returns the rules with a type of file added: what it is called, its
// extension, its media type and how it is recognised, in one act.
func (r Rules) AddType(t Type) (Rules, error) {
	out := r.clone()
	out.Types = append(out.Types, t)
	return r.with(out, "/types/"+t.MediaType)
}

// with returns out, unless what was added at a path has faults.
func (r Rules) with(out *Rules, at string) (Rules, error) {
	var own Faults
	for _, f := range out.Check() {
		if strings.HasPrefix(f.At, at) {
			own = append(own, f)
		}
	}
	if len(own) > 0 {
		return r, own
	}
	return out.Resolved(), nil
}

// freeSign is the first sign that no section has.
func (r Rules) freeSign() string {
	for _, s := range Signs {
		if !slices.ContainsFunc(r.Sections, func(x Section) bool { return x.Sign == s }) {
			return s
		}
	}
	return Signs[0]
}

// Remove returns the rules without the element of a list at a path, such as
// /slots/side. The last one of a list that must not be empty stays, with its reason.
func (r Rules) Remove(path string) (Rules, error) { return r.relist(path, nil) }

// Move returns the rules with the element of a list at a path moved by steps
// up (negative) or down in its list.
func (r Rules) Move(path string, by int) (Rules, error) { return r.relist(path, &by) }

// relist takes an element out of its list, and puts it back by steps away.
func (r Rules) relist(path string, by *int) (Rules, error) {
	out := r.clone()
	cut := strings.LastIndexByte(path, '/')
	if strings.HasPrefix(path, "/types/") {
		cut = len("/types")
	}
	if cut <= 0 {
		return r, Faults{{path, "there is no such place in the rules"}}
	}
	list, err := out.at(path[:cut])
	if err != nil {
		return r, err
	}
	if list.Kind() != reflect.Slice || list.Type().Elem().Kind() != reflect.Struct {
		return r, Faults{{path, "there is no such place in the rules"}}
	}
	i, ok := indexOf(list, path[cut+1:])
	if !ok {
		return r, Faults{{path, "there is no such place in the rules"}}
	}
	one := reflect.New(list.Type().Elem()).Elem()
	one.Set(list.Index(i))
	rest := reflect.AppendSlice(reflect.AppendSlice(reflect.MakeSlice(list.Type(), 0, list.Len()), list.Slice(0, i)), list.Slice(i+1, list.Len()))
	if by != nil {
		to := min(max(i+*by, 0), rest.Len())
		moved := reflect.AppendSlice(reflect.MakeSlice(list.Type(), 0, list.Len()), rest.Slice(0, to))
		rest = reflect.AppendSlice(reflect.Append(moved, one), rest.Slice(to, rest.Len()))
	}
	list.Set(rest)
	if rest.Len() == 0 {
		return r.with(out, path[:cut])
	}
	return out.Resolved(), nil
}
