package desk_test

import (
	"bytes"
	"context"
	"image"
	"io"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/audit"
	"mivlet/core/consent"
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
func useCases(b *bench, picture, doomed uint) map[string]struct {
	need need
	try  func(*desk.Desk) error
} {
	ctx := context.Background()
	return map[string]struct {
		need need
		try  func(*desk.Desk) error
	}{
		"Arrive": {work, func(d *desk.Desk) error {
			_, err := d.Arrive("a.txt", bytes.NewReader([]byte("no")), "juniors")
			return err
		}},
		"Waiting":       {look, func(d *desk.Desk) error { _, err := d.Waiting(); return err }},
		"ThrowAwayFrom": {work, func(d *desk.Desk) error { return d.ThrowAwayFrom(ctx, doomed, plainLayout) }},
		"Withdraw":      {work, func(d *desk.Desk) error { return d.Withdraw(ctx, picture) }},
		"Exposures":     {work, func(d *desk.Desk) error { _, err := d.Exposures(picture); return err }},
		"Erase":         {keep, func(d *desk.Desk) error { _, err := d.Erase(ctx, doomed, desk.Erasing{}); return err }},
		"PutBackWords":  {work, func(d *desk.Desk) error { return d.PutBackWords(b.page, 1) }},
		"SetConsent":    {work, func(d *desk.Desk) error { return d.SetConsent(picture, "", consent.Entry{State: consent.Nobody}, "") }},
		"DropConsent":   {work, func(d *desk.Desk) error { return d.DropConsent(picture, "x", "", "") }},
		"OpenOriginal":  {work, func(d *desk.Desk) error { _, _, err := d.OpenOriginal(picture); return err }},
		"Tidy":          {keep, func(d *desk.Desk) error { return d.Tidy() }},
		"Recover":       {keep, func(d *desk.Desk) error { _, err := d.Recover("nobody"); return err }},
		"ThrowAway":     {work, func(d *desk.Desk) error { return d.ThrowAway(doomed) }},
		"BringBack":     {work, func(d *desk.Desk) error { return d.BringBack(doomed) }},
		"Binned":        {look, func(d *desk.Desk) error { _, err := d.Binned(); return err }},
		"Bench":         {work, func(d *desk.Desk) error { _, err := d.Bench(picture); return err }},
		"OnBench":       {look, func(d *desk.Desk) error { _, err := d.OnBench(); return err }},
		"SetSlot":       {work, func(d *desk.Desk) error { return d.SetSlot(picture, "column") }},
		"SetFrame":      {work, func(d *desk.Desk) error { return d.SetFrame(picture, image.Rect(0, 0, 900, 600)) }},
		"SetName":       {work, func(d *desk.Desk) error { return d.SetName(picture, "juniors-boat") }},
		"GoTo":          {work, func(d *desk.Desk) error { return d.GoTo(picture, 0) }},
		"MakeCuts":      {work, func(d *desk.Desk) error { _, err := d.MakeCuts(picture, "thumb"); return err }},
		"OpenCut":       {look, func(d *desk.Desk) error { _, err := d.OpenCut("x"); return err }},
		"Measured":      {work, func(d *desk.Desk) error { _, err := d.Measured(picture, image.Rectangle{}, ""); return err }},
		"CheckLive":     {look, func(d *desk.Desk) error { _, err := d.CheckLive(ctx, b.page); return err }},
		"LivePages":     {look, func(d *desk.Desk) error { _, err := d.LivePages(); return err }},
		"AveragedPages": {look, func(d *desk.Desk) error { _, err := d.AveragedPages(); return err }},
		"Telling":       {work, func(d *desk.Desk) error { _, err := d.Telling(picture); return err }},
		"Faces":         {work, func(d *desk.Desk) error { _, err := d.Faces(picture); return err }},
		"HideFaces":     {work, func(d *desk.Desk) error { return d.HideFaces(picture, []string{"1-1-1-1"}, veil.Cover) }},
		"AllowFaces":    {work, func(d *desk.Desk) error { return d.AllowFaces(picture, []string{"1-1-1-1"}, true) }},
		"CoverPerson":   {work, func(d *desk.Desk) error { return d.CoverPerson(picture, "a", "b", "1-1-1-1") }},
		"FollowVeil":    {work, func(d *desk.Desk) error { return d.FollowVeil(picture, desk.Newest, "a", 0, image.Rect(0, 0, 9, 9)) }},
		"StandVeil":     {work, func(d *desk.Desk) error { return d.StandVeil(picture, desk.Newest, "a") }},
		"PageTitles":    {look, func(d *desk.Desk) error { _, err := d.PageTitles(picture); return err }},
		"Pages":         {look, func(d *desk.Desk) error { _, err := d.Pages(); return err }},
		"Page":          {look, func(d *desk.Desk) error { _, err := d.Page(b.page); return err }},
		"Counts":        {look, func(d *desk.Desk) error { _, err := d.Counts(); return err }},
		"Insert": {work, func(d *desk.Desk) error {
			_, err := d.Insert(b.page, page.Gap{}, page.Placement{Picture: picture, Slot: "column"})
			return err
		}},
		"SetPlacement": {work, func(d *desk.Desk) error { return d.SetPlacement(b.page, "a", 0, "", page.Placement{Slot: "column"}) }},
		"TakeOff":      {work, func(d *desk.Desk) error { return d.TakeOff(b.page, "a", 0, "") }},
		"AddBlock":     {work, func(d *desk.Desk) error { _, err := d.AddBlock(b.page, page.Gap{}, page.Text, "", ""); return err }},
		"AddFile": {work, func(d *desk.Desk) error {
			_, err := d.AddFile(b.page, page.Gap{}, "a.csv", strings.NewReader("a,b\n1,2\n"))
			return err
		}},
		"AddToStrip": {work, func(d *desk.Desk) error { return d.AddToStrip(b.page, "a", "", picture) }},
		"BeAt":       {work, func(d *desk.Desk) error { return d.BeAt(b.page, "a") }},
		"InTray":     {look, func(d *desk.Desk) error { _, err := d.InTray(picture); return err }},
		"Tray":       {look, func(d *desk.Desk) error { _, err := d.Tray("boat"); return err }},
		"Land": {work, func(d *desk.Desk) error {
			_, err := d.Land(b.page, page.Gap{}, "", 0, "", "a.jpg", strings.NewReader(""))
			return err
		}},
		"Mend":           {work, func(d *desk.Desk) error { return d.Mend(b.page, "a", 0, audit.DropBlock, "") }},
		"MoveBlockTo":    {work, func(d *desk.Desk) error { return d.MoveBlockTo(b.page, "a", page.Gap{}) }},
		"OpenFile":       {work, func(d *desk.Desk) error { _, err := d.OpenFile(b.page, "x"); return err }},
		"PageLines":      {look, func(d *desk.Desk) error { _, err := d.PageLines(); return err }},
		"PageStyle":      {look, func(d *desk.Desk) error { _, err := d.PageStyle(b.page); return err }},
		"Replace":        {work, func(d *desk.Desk) error { return d.Replace(b.page, "a", 0, "", picture) }},
		"SectionArchive": {work, func(d *desk.Desk) error { return d.SectionArchive(io.Discard, "juniors", desk.Dressing{}) }},
		"SetBand":        {work, func(d *desk.Desk) error { return d.SetBand(b.page, "a", "", page.Frame{Pattern: "two"}) }},
		"Sides":          {anybody, func(d *desk.Desk) error { d.Sides(page.Stand{}); return nil }},
		"SetLevel":       {work, func(d *desk.Desk) error { return d.SetLevel(b.page, "a", 3) }},
		"SetText":        {work, func(d *desk.Desk) error { return d.SetText(b.page, "a", "", "Other words") }},
		"MoveBlock":      {work, func(d *desk.Desk) error { return d.MoveBlock(b.page, "a", 1) }},
		"DropBlock":      {work, func(d *desk.Desk) error { return d.DropBlock(b.page, "a", "") }},
		"NewPage":        {work, func(d *desk.Desk) error { _, err := d.NewPage("juniors", "Spring", "empty"); return err }},
		"DuplicatePage":  {work, func(d *desk.Desk) error { _, err := d.DuplicatePage(b.page); return err }},
		"RenamePage":     {work, func(d *desk.Desk) error { return d.RenamePage(b.page, "Autumn", "autumn") }},
		"HandOver":       {work, func(d *desk.Desk) error { return d.HandOver(b.page, "juniors") }},
		"PutBack":        {publish, func(d *desk.Desk) error { _, err := d.PutBack(ctx, b.page, 1); return err }},
		"TakePageOff":    {publish, func(d *desk.Desk) error { return d.TakePageOff(b.page) }},
		"PublishChanged": {look, func(d *desk.Desk) error { _, err := d.PublishChanged(0, plainLayout); return err }},
		"Whereabouts":    {anybody, func(d *desk.Desk) error { _, _, err := d.Whereabouts("a", "b"); return err }},
		"Changes":        {look, func(d *desk.Desk) error { _, err := d.Changes(b.page); return err }},
		"Lives":          {look, func(d *desk.Desk) error { _, err := d.Lives(b.page); return err }},
		"PageHTML":       {work, func(d *desk.Desk) error { _, err := d.PageHTML(b.page, ""); return err }},
		"PageArchive":    {work, func(d *desk.Desk) error { return d.PageArchive(io.Discard, b.page, desk.Dressing{}) }},
		"Weights":        {work, func(d *desk.Desk) error { _, err := d.Weights(b.page); return err }},
		"PagePreview":    {work, func(d *desk.Desk) error { _, err := d.PagePreview(b.page, ""); return err }},
		"PageVersion":    {look, func(d *desk.Desk) error { _, err := d.PageVersion(b.page); return err }},
		"EnterPage": {look, func(d *desk.Desk) error {
			v, err := d.EnterPage(b.page)
			if err == nil {
				v.Leave()
			}
			return err
		}},
		"PageStep": {work, func(d *desk.Desk) error { return d.PageStep(b.page, 1, 0) }},
		"Publish":  {publish, func(d *desk.Desk) error { _, err := d.Publish(ctx, b.page, desk.Seen{}, "", plainLayout); return err }},
		"Thumb":    {look, func(d *desk.Desk) error { _, _, err := d.Thumb(picture); return err }},
		"Look":     {look, func(d *desk.Desk) error { _, _, err := d.Look(picture); return err }},
		"Send": {work, func(d *desk.Desk) error {
			return d.Send([]uint{picture}, desk.Assignment{Slot: "column", Section: "juniors"})
		}},
		"ExampleName": {look, func(d *desk.Desk) error { _, _, err := d.ExampleName(rules.Default()); return err }},
		"Edit":        {work, func(d *desk.Desk) error { return d.Edit(picture, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}) }},
		"SetVeil":     {work, func(d *desk.Desk) error { return d.SetVeil(picture, desk.Newest, veil.Veil{}) }},
		"DropVeil":    {work, func(d *desk.Desk) error { return d.DropVeil(picture, desk.Newest, "x") }},
		"RepeatVeils": {work, func(d *desk.Desk) error { _, err := d.RepeatVeils(picture); return err }},
		"TrimBorder":  {work, func(d *desk.Desk) error { return d.TrimBorder(picture) }},
		"Stage":       {work, func(d *desk.Desk) error { _, err := d.Stage(picture, -1); return err }},
		"Tile":        {work, func(d *desk.Desk) error { _, err := d.Tile(picture, 0, 0, 0); return err }},
		"VeilLook":    {work, func(d *desk.Desk) error { _, _, err := d.VeilLook(picture, -1, veil.Veil{}); return err }},
		"TextLines":   {work, func(d *desk.Desk) error { _, err := d.TextLines(picture); return err }},
		"AddVeils":    {work, func(d *desk.Desk) error { return d.AddVeils(picture, nil) }},
		"Boxes":       {work, func(d *desk.Desk) error { _, err := d.Boxes(picture, nil); return err }},
		"SetAlso":     {work, func(d *desk.Desk) error { return d.SetAlso(picture, "thumb", true) }},
		"SetBudget":   {work, func(d *desk.Desk) error { return d.SetBudget(picture, "thumb", 0) }},
		"SetStill":    {work, func(d *desk.Desk) error { return d.SetStill(picture, 0) }},
		"FrameThumb":  {work, func(d *desk.Desk) error { _, err := d.FrameThumb(picture, 0); return err }},
		"PlainCut":    {work, func(d *desk.Desk) error { _, err := d.PlainCut(picture, ""); return err }},
		"TryCut":      {work, func(d *desk.Desk) error { _, err := d.TryCut(picture, "", 0); return err }},
		"CutAll":      {work, func(d *desk.Desk) error { _, err := d.CutAll(picture); return err }},
		"CutBatch":    {look, func(d *desk.Desk) error { _, err := d.CutBatch(); return err }},
		"ApplyStep":   {work, func(d *desk.Desk) error { _, err := d.ApplyStep(picture, 1, []uint{picture}); return err }},
		"CarryOver":   {work, func(d *desk.Desk) error { return d.CarryOver(picture, picture, 0, 0) }},
		"Shown":       {work, func(d *desk.Desk) error { _, err := d.Shown(picture); return err }},
		"EnterBench": {work, func(d *desk.Desk) error {
			v, err := d.EnterBench(picture)
			if err == nil {
				v.Leave()
			}
			return err
		}},
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
		"SetWords":     {work, func(d *desk.Desk) error { return d.SetWords(picture, desk.Newest, desk.Words{Alt: "A boat"}) }},
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
		"FirstKeeper":    {anybody, func(d *desk.Desk) error { _, err := d.FirstKeeper("", "", "", "", ""); return err }},
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
var notUseCases = []string{"As", "Who", "Rules", "SiteURL", "TooLarge", "TooSmallFor", "Sides", "Warm", "EndJobs", "Propose", "DemoSignIn", "SignOutEverywhere", "In", "Upkeep", "FirstCode", "DecodingNow"}

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

	cases := useCases(b, picture, b.ready("juniors-doomed", 2))
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
	_, err = b.FirstKeeper("Ines", "ines", "short", b.FirstCode(), "here")
	refusal(t, err, desk.Bad, "at least 10")
	who, err := b.FirstKeeper("Ines Varrow", "ines", "four words in a row", b.FirstCode(), "here")
	require.NoError(t, err)
	assert.True(t, who.Keeper)
	_, err = b.FirstKeeper("Odo", "odo", "four other words in", b.FirstCode(), "here")
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
	_, err = b.SignIn("INES", "four words in a row", "elsewhere")
	refusal(t, err, desk.TooSoon, "Wait")
	_, err = b.SignIn("somebody", "else entirely", "there")
	refusal(t, err, desk.Bad, "do not go together")
	b.now = b.now.Add(time.Minute)
	_, err = b.SignIn("ines", "four words in a row", "there")
	require.NoError(t, err, "after the wait it goes on")
}

func TestAccountsAndSessionsThatEnd(t *testing.T) {
	b := fresh(t)
	keeper, err := b.FirstKeeper("Ines", "ines", "four words in a row", b.FirstCode(), "here")
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
	assert.Contains(t, trail[0].What, "A sign-in failed: odo")
	assert.Contains(t, trail[1].What, "may not sign in")
	assert.Equal(t, "Ines", trail[1].Person)
}
