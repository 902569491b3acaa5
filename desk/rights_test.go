package desk_test

import (
	"bytes"
	"context"
	"image"
	"reflect"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/store"
)

// need is what a use case asks of a person.
type need int

const (
	anybody need = iota // also those who are not signed in: visitors, and the door
	look                // signed in
	measure             // works for any section
	work                // works for the section
	publish             // publishes for the section
	keep                // keeps the house
)

// useCases are all that can be done at a desk: what it needs, and a try at it on
// things of the section juniors. Only whether it is refused for want of a right
// counts here.
func useCases(b *bench, picture uint) map[string]struct {
	need need
	try  func(*desk.Desk) error
} {
	ctx := context.Background()
	one := func(f func(*desk.Desk) error) func(*desk.Desk) error { return f }
	return map[string]struct {
		need need
		try  func(*desk.Desk) error
	}{
		"Arrive": {work, func(d *desk.Desk) error {
			_, err := d.Arrive("a.txt", bytes.NewReader([]byte("no")), "juniors")
			return err
		}},
		"Waiting":   {look, func(d *desk.Desk) error { _, err := d.Waiting(); return err }},
		"ToBench":   {work, one(func(d *desk.Desk) error { return d.ToBench([]uint{picture}, "column", "juniors") })},
		"ThrowAway": {work, func(d *desk.Desk) error { return d.ThrowAway(picture) }},
		"BringBack": {work, func(d *desk.Desk) error { return d.BringBack(picture) }},
		"Binned":    {look, func(d *desk.Desk) error { _, err := d.Binned(); return err }},
		"Bench":     {work, func(d *desk.Desk) error { _, err := d.Bench(picture); return err }},
		"OnBench":   {look, func(d *desk.Desk) error { _, err := d.OnBench(); return err }},
		"SetSlot":   {work, func(d *desk.Desk) error { return d.SetSlot(picture, "column") }},
		"SetFrame":  {work, func(d *desk.Desk) error { return d.SetFrame(picture, image.Rect(0, 0, 900, 600)) }},
		"SetName":   {work, func(d *desk.Desk) error { return d.SetName(picture, "juniors-boat") }},
		"SetAlt":    {work, func(d *desk.Desk) error { return d.SetAlt(picture, "A boat") }},
		"GoTo":      {work, func(d *desk.Desk) error { return d.GoTo(picture, 0) }},
		"MakeCuts":  {work, func(d *desk.Desk) error { _, err := d.MakeCuts(picture, "thumb"); return err }},
		"OpenCut":   {look, func(d *desk.Desk) error { _, err := d.OpenCut("x"); return err }},
		"Measure":   {work, func(d *desk.Desk) error { _, err := d.Measure(picture, image.Rectangle{}, ""); return err }},
		"CheckLive": {look, func(d *desk.Desk) error { _, err := d.CheckLive(ctx, b.page); return err }},
		"LivePages": {look, func(d *desk.Desk) error { _, err := d.LivePages(); return err }},
		"Pages":     {look, func(d *desk.Desk) error { _, err := d.Pages(); return err }},
		"Page":      {look, func(d *desk.Desk) error { _, err := d.Page(b.page); return err }},
		"Counts":    {look, func(d *desk.Desk) error { _, err := d.Counts(); return err }},
		"Insert": {work, func(d *desk.Desk) error {
			_, err := d.Insert(b.page, 1, 0, page.Placement{Picture: picture, Slot: "column"})
			return err
		}},
		"SetPlacement": {work, func(d *desk.Desk) error { return d.SetPlacement(b.page, 1, "a", page.Placement{Slot: "column"}) }},
		"TakeOff":      {work, func(d *desk.Desk) error { return d.TakeOff(b.page, 1, "a") }},
		"PageStep":     {work, func(d *desk.Desk) error { return d.PageStep(b.page, 1, 0) }},
		"Publish":      {publish, func(d *desk.Desk) error { _, err := d.Publish(ctx, b.page, 1, plainLayout); return err }},
		"Thumb":        {look, func(d *desk.Desk) error { _, _, err := d.Thumb(picture); return err }},
		"Look":         {look, func(d *desk.Desk) error { _, _, err := d.Look(picture); return err }},
		"Send": {work, func(d *desk.Desk) error {
			return d.Send([]uint{picture}, desk.Assignment{Slot: "column", Section: "juniors"})
		}},
		"ExampleName":  {look, func(d *desk.Desk) error { _, _, err := d.ExampleName(rules.Default()); return err }},
		"Edit":         {work, func(d *desk.Desk) error { return d.Edit(picture, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}) }},
		"SetVeil":      {work, func(d *desk.Desk) error { return d.SetVeil(picture, 0, veil.Veil{}) }},
		"DropVeil":     {work, func(d *desk.Desk) error { return d.DropVeil(picture, 0) }},
		"RepeatVeils":  {work, func(d *desk.Desk) error { _, err := d.RepeatVeils(picture); return err }},
		"TrimBorder":   {work, func(d *desk.Desk) error { return d.TrimBorder(picture) }},
		"Stage":        {work, func(d *desk.Desk) error { _, err := d.Stage(picture); return err }},
		"NextLacking":  {look, func(d *desk.Desk) error { _, err := d.NextLacking(picture); return err }},
		"PlanNames":    {work, func(d *desk.Desk) error { _, err := d.PlanNames([]uint{picture}, "A boat"); return err }},
		"Rename":       {work, func(d *desk.Desk) error { return d.Rename(map[uint]string{picture: "juniors-boat"}) }},
		"Shelves":      {look, func(d *desk.Desk) error { _, err := d.Shelves(store.ShelfQuery{}); return err }},
		"PictureCard":  {look, func(d *desk.Desk) error { _, err := d.PictureCard(picture); return err }},
		"Move":         {work, func(d *desk.Desk) error { return d.Move([]uint{picture}, "a") }},
		"Tag":          {work, func(d *desk.Desk) error { return d.Tag([]uint{picture}, []string{"lake"}, nil) }},
		"AddFolder":    {work, func(d *desk.Desk) error { return d.AddFolder("juniors", "a") }},
		"DropFolder":   {work, func(d *desk.Desk) error { return d.DropFolder("juniors", "nothing") }},
		"NewVariant":   {work, func(d *desk.Desk) error { _, err := d.NewVariant(picture); return err }},
		"SwapFile":     {work, func(d *desk.Desk) error { _, err := d.SwapFile(picture, "a", bytes.NewReader(nil)); return err }},
		"SetWords":     {work, func(d *desk.Desk) error { return d.SetWords(picture, desk.Words{Alt: "A boat"}) }},
		"CheckWords":   {work, func(d *desk.Desk) error { _, err := d.CheckWords(picture, desk.Words{}); return err }},
		"EmptyBin":     {keep, func(d *desk.Desk) error { _, err := d.EmptyBin(); return err }},
		"InsertCard":   {measure, func(d *desk.Desk) error { return d.InsertCard(true) }},
		"Card":         {look, func(d *desk.Desk) error { _, err := d.Card(); return err }},
		"TakeFromCard": {work, func(d *desk.Desk) error { _, err := d.TakeFromCard(nil, "juniors"); return err }},
		"Preview":      {work, func(d *desk.Desk) error { _, err := d.Preview(picture); return err }},
		"Published":    {anybody, func(d *desk.Desk) error { _, err := d.Published("/x", ""); return err }},
		"LiveLinks":    {anybody, func(d *desk.Desk) error { _, err := d.LiveLinks(); return err }},
		"RulesDraft":   {look, func(d *desk.Desk) error { _, err := d.RulesDraft(); return err }},
		"ChangeRules": {keep, func(d *desk.Desk) error {
			return d.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r, nil })
		}},
		"DropRulesDraft": {keep, func(d *desk.Desk) error { return d.DropRulesDraft() }},
		"ImportRules":    {keep, func(d *desk.Desk) error { return d.ImportRules([]byte("{}")) }},
		"DryRun":         {keep, func(d *desk.Desk) error { _, err := d.DryRun(); return err }},
		"ApplyRules":     {keep, func(d *desk.Desk) error { _, err := d.ApplyRules("why"); return err }},
		"RulesVersions":  {look, func(d *desk.Desk) error { _, err := d.RulesVersions(); return err }},
		"CompareRules":   {look, func(d *desk.Desk) error { _, err := d.CompareRules(0, 1); return err }},
		"BringBackRules": {keep, func(d *desk.Desk) error { return d.BringBackRules(1) }},
		"Job":            {look, func(d *desk.Desk) error { _, err := d.Job(9); return err }},
		"StopJob":        {look, func(d *desk.Desk) error { return d.StopJob(9) }},
		"SignIn":         {anybody, func(d *desk.Desk) error { _, err := d.SignIn("nobody", "nothing at all", "here"); return err }},
		"DemoPeople":     {anybody, func(d *desk.Desk) error { _, err := d.DemoPeople(); return err }},
		"Returning":      {anybody, func(d *desk.Desk) error { _, _, err := d.Returning(1, 0); return err }},
		"NeedsKeeper":    {anybody, func(d *desk.Desk) error { _, err := d.NeedsKeeper(); return err }},
		"FirstKeeper":    {anybody, func(d *desk.Desk) error { _, err := d.FirstKeeper("", "", ""); return err }},
		"SaveAccount":    {keep, func(d *desk.Desk) error { _, err := d.SaveAccount(desk.Account{Name: "x"}); return err }},
		"SetOwnPassword": {look, func(d *desk.Desk) error { _, err := d.SetOwnPassword("a", "b"); return err }},
		"People":         {keep, func(d *desk.Desk) error { _, err := d.People(); return err }},
		"Trail":          {keep, func(d *desk.Desk) error { _, err := d.Trail(store.TrailFilter{}); return err }},
		"SectionPeople":  {look, func(d *desk.Desk) error { _, err := d.SectionPeople("juniors"); return err }},
		"AddSheet":       {measure, func(d *desk.Desk) error { _, err := d.AddSheet("a", bytes.NewReader(nil), 1); return err }},
		"Sheets":         {look, func(d *desk.Desk) error { _, err := d.Sheets(); return err }},
		"Sheet":          {look, func(d *desk.Desk) error { _, err := d.Sheet(1); return err }},
		"SheetImage":     {look, func(d *desk.Desk) error { _, err := d.SheetImage(1); return err }},
		"SheetLines":     {look, func(d *desk.Desk) error { _, err := d.SheetLines(1); return err }},
		"FindColumns":    {look, func(d *desk.Desk) error { _, err := d.FindColumns(1); return err }},
		"SetScale":       {measure, func(d *desk.Desk) error { return d.SetScale(1, 2, 0, 0) }},
		"AddReading":     {measure, func(d *desk.Desk) error { return d.AddReading(1, false, 0, 1, "") }},
		"DropReading":    {measure, func(d *desk.Desk) error { return d.DropReading(1, 1) }},
		"DropSheet":      {measure, func(d *desk.Desk) error { return d.DropSheet(1) }},
	}
}

// notUseCases are methods that do nothing to the house's things, or check a
// right of their own kind.
var notUseCases = []string{"As", "Who", "Rules", "SiteURL", "TooLarge", "TooSmallFor", "Sides", "Warm", "Propose", "DemoSignIn", "SignOutEverywhere"}

// The whole matrix: every use case as everybody, refused or not exactly as the
// roles say.
func TestEveryUseCaseForEverybody(t *testing.T) {
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	people := map[string]struct {
		desk *desk.Desk
		most need // the most they may do for juniors
		any  bool // works for some section
	}{}
	add := func(name string, p store.Person, most need, any bool) {
		p.Name, p.Login, p.CreatedAt = name, name, b.now
		require.NoError(t, b.store.SavePerson(&p))
		who, ok, err := b.Returning(p.ID, 0)
		require.NoError(t, err)
		require.True(t, ok)
		people[name] = struct {
			desk *desk.Desk
			most need
			any  bool
		}{b.As(who), most, any}
	}
	add("onlooker", store.Person{}, look, false)
	add("elsewhere", store.Person{Roles: []store.Role{{Section: "touring", Role: "publisher"}}}, look, true)
	add("contributor", store.Person{Roles: []store.Role{{Section: "juniors", Role: "contributor"}}}, work, true)
	add("publisher", store.Person{Roles: []store.Role{{Section: "juniors", Role: "publisher"}}}, publish, true)
	add("keeper", store.Person{Keeper: true}, keep, true)
	people["nobody"] = struct {
		desk *desk.Desk
		most need
		any  bool
	}{b.As(desk.Person{}), anybody, false}

	cases := useCases(b, picture)
	for method := range reflect.TypeFor[*desk.Desk]().Methods() {
		_, known := cases[method.Name]
		assert.True(t, known || slices.Contains(notUseCases, method.Name), "%s is in no line of the matrix", method.Name)
	}
	for name, c := range cases {
		for who, p := range people {
			may := p.most >= c.need
			if c.need == measure {
				may = p.any
			}
			err := c.try(p.desk)
			var r *desk.Refusal
			refused := false
			if e, ok := asRefusal(err); ok {
				r = e
				refused = r.Kind == desk.Forbidden || r.Kind == desk.SignIn
			}
			assert.Equal(t, !may, refused, "%s as %s: %v", name, who, err)
			if refused {
				assert.NotEmpty(t, r.Next)
				assert.Equal(t, who == "nobody", r.Kind == desk.SignIn, "%s as %s", name, who)
			}
		}
	}
}

func asRefusal(err error) (*desk.Refusal, bool) {
	r, ok := err.(*desk.Refusal)
	return r, ok
}

func TestSigningIn(t *testing.T) {
	b := fresh(t)
	first, err := b.NeedsKeeper()
	require.NoError(t, err)
	assert.True(t, first)
	_, err = b.FirstKeeper("Ines", "ines", "short")
	refusal(t, err, desk.Bad, "at least 10")
	who, err := b.FirstKeeper("Ines Varrow", "ines", "four words in a row")
	require.NoError(t, err)
	assert.True(t, who.Keeper)
	_, err = b.FirstKeeper("Odo", "odo", "four other words in")
	refusal(t, err, desk.Clash, "keeper already")

	again, err := b.SignIn("INES", "four words in a row", "here")
	require.NoError(t, err, "the case of a sign-in name does not count")
	assert.Equal(t, who.ID, again.ID)
	kept, err := b.store.Person(who.ID)
	require.NoError(t, err)
	assert.Contains(t, kept.Password, "$argon2id$", "kept as a hash (RFC 9106)")
	assert.NotContains(t, kept.Password, "four")

	for range 3 {
		_, err = b.SignIn("ines", "wrong", "there")
		refusal(t, err, desk.Bad, "do not go together")
	}
	for range 3 { // the first waits are short
		b.now = b.now.Add(5 * time.Second)
		_, err = b.SignIn("ines", "wrong", "there")
		refusal(t, err, desk.Bad, "do not go together")
	}
	_, err = b.SignIn("ines", "four words in a row", "there")
	refusal(t, err, desk.TooSoon, "Wait")
	_, err = b.SignIn("somebody", "else entirely", "there")
	refusal(t, err, desk.TooSoon, "Wait")
	b.now = b.now.Add(time.Minute)
	_, err = b.SignIn("ines", "four words in a row", "there")
	require.NoError(t, err, "after the wait it goes on")
}

func TestAccountsAndSessionsThatEnd(t *testing.T) {
	b := fresh(t)
	keeper, err := b.FirstKeeper("Ines", "ines", "four words in a row")
	require.NoError(t, err)
	d := b.As(keeper)
	id, err := d.SaveAccount(desk.Account{Name: "Odo", Login: "odo", Password: "a paddle on the lake", Roles: map[string]desk.Role{"juniors": desk.Contributor}})
	require.NoError(t, err)
	_, err = d.SaveAccount(desk.Account{Name: "Odo II", Login: "ODO", Password: "a paddle on the lake"})
	refusal(t, err, desk.Clash, "taken")
	odo, err := b.SignIn("odo", "a paddle on the lake", "x")
	require.NoError(t, err)
	assert.True(t, odo.CanWork("juniors"))
	assert.False(t, odo.CanWork("touring"))
	assert.False(t, odo.CanPublish("juniors"))

	require.NoError(t, b.As(odo).SignOutEverywhere())
	_, ok, err := b.Returning(odo.ID, odo.Epoch())
	require.NoError(t, err)
	assert.False(t, ok, "all sessions have ended")
	_, err = d.SaveAccount(desk.Account{ID: id, Name: "Odo", Login: "odo", Away: true})
	require.NoError(t, err)
	_, err = b.SignIn("odo", "a paddle on the lake", "y")
	refusal(t, err, desk.Bad, "do not go together")

	_, err = d.SaveAccount(desk.Account{ID: keeper.ID, Name: "Ines", Login: "ines"})
	refusal(t, err, desk.Clash, "no keeper left")
	trail, err := d.Trail(store.TrailFilter{})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "may not sign in")
	assert.Equal(t, "Ines", trail[0].Person)
}
