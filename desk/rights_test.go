package desk_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/album"
	"mivlet/core/audit"
	"mivlet/core/banner"
	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/mend"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/banners"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/destinations"
	"mivlet/desk/district"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/people"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/shelves"
	"mivlet/desk/snapshot"
	"mivlet/desk/takealong"
	"mivlet/desk/withdraw"
	"mivlet/store"
)

// need is what a use case asks of a person.
type need int

const (
	anybody            need = iota // also those who are not signed in: visitors, and the door
	look                           // signed in
	measure                        // works for any section
	work                           // works for the section
	publishesSomewhere             // publishes for any section
	publishes                      // publishes for the section
	keep                           // keeps the house
)

// useCases are all that can be done at a desk: what it needs, and a try at it on
// things of the section juniors. Only whether it is refused for want of a right
// counts here.
func useCases(b *desktest.Fixture, picture, doomed uint) map[string]struct {
	need need
	try  func(*desk.Desk) error
} {
	ctx := context.Background()
	b.UnderRules(func(r *rules.Rules) {
		r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 300, Height: 250, Where: rules.AsBlock, Turn: rules.ByTurns, Empty: rules.ShowNothing}}
	})
	notice, err := b.Banners.Begin("juniors", "Rope", "foot")
	require.NoError(b.T, err)
	kept, err := b.Attachments.Keep("sizes.csv", strings.NewReader("a,b\n1,3\n"), "juniors")
	require.NoError(b.T, err)
	scrap, err := b.Attachments.Keep("scrap.csv", strings.NewReader("a,b\n1,4\n"), "juniors")
	require.NoError(b.T, err)
	file := kept.ID
	held, err := b.Albums.Begin("juniors", "Autumn", []uint{picture})
	require.NoError(b.T, err)
	scraps := 0
	scrapPage := func() uint {
		scraps++
		id, err := b.Pages.NewPage("juniors", fmt.Sprint("Scrap ", scraps), "empty")
		require.NoError(b.T, err)
		return id
	}
	return map[string]struct {
		need need
		try  func(*desk.Desk) error
	}{
		"Pictures.Arrive": {work, func(d *desk.Desk) error {
			_, err := d.Pictures.Arrive("a.txt", bytes.NewReader([]byte("no")), "juniors")
			return err
		}},
		"Pictures.Waiting":      {look, func(d *desk.Desk) error { _, err := d.Pictures.Waiting(); return err }},
		"Publish.ThrowAwayFrom": {work, func(d *desk.Desk) error { return d.Publish.ThrowAwayFrom(ctx, doomed, desktest.PlainLayout) }},
		"Withdraw.Withdraw":     {work, func(d *desk.Desk) error { return d.Withdraw.Withdraw(ctx, picture) }},
		"Bench.Exposures":       {work, func(d *desk.Desk) error { _, err := d.Bench.Exposures(picture); return err }},
		"Withdraw.Erase":        {keep, func(d *desk.Desk) error { _, err := d.Withdraw.Erase(ctx, doomed, withdraw.Erasing{}); return err }},
		"Withdraw.EraseCopied":  {keep, func(d *desk.Desk) error { _, err := d.Withdraw.EraseCopied(store.Erasure{}); return err }},
		"Publish.PutBackWords":  {work, func(d *desk.Desk) error { return d.Publish.PutBackWords(b.PageID, 1) }},
		"Pictures.SetConsent": {work, func(d *desk.Desk) error {
			return d.Pictures.SetConsent(picture, "", consent.Entry{State: consent.Nobody}, "")
		}},
		"Pictures.DropConsent": {work, func(d *desk.Desk) error { return d.Pictures.DropConsent(picture, "x", "", "") }},
		"Shelves.OpenOriginal": {work, func(d *desk.Desk) error { _, _, err := d.Shelves.OpenOriginal(picture); return err }},
		"LiveSite":             {keep, func(d *desk.Desk) error { return d.LiveSite(func(string, io.Reader) error { return nil }) }},
		"Tidy":                 {keep, func(d *desk.Desk) error { return d.Tidy() }},
		"Pictures.FillCrops":   {keep, func(d *desk.Desk) error { _, err := d.Pictures.FillCrops(1); return err }},
		"People.Recover":       {keep, func(d *desk.Desk) error { _, err := d.People.Recover("nobody"); return err }},
		"Shelves.ThrowAway":    {work, func(d *desk.Desk) error { return d.Shelves.ThrowAway(doomed) }},
		"Shelves.BringBack":    {work, func(d *desk.Desk) error { return d.Shelves.BringBack(doomed) }},
		"Pictures.Binned":      {look, func(d *desk.Desk) error { _, err := d.Pictures.Binned(); return err }},
		"Bench.View":           {work, func(d *desk.Desk) error { _, err := d.Bench.View(picture); return err }},
		"Bench.OnBench":        {look, func(d *desk.Desk) error { _, err := d.Bench.OnBench(); return err }},
		"Bench.SetSlot":        {work, func(d *desk.Desk) error { return d.Bench.SetSlot(picture, "column") }},
		"Bench.LookCloser":     {work, func(d *desk.Desk) error { _, err := d.Bench.LookCloser(picture); return err }},
		"Bench.SetFrame":       {work, func(d *desk.Desk) error { return d.Bench.SetFrame(picture, image.Rect(0, 0, 900, 600), facts.Upright) }},
		"Pictures.SetName":     {work, func(d *desk.Desk) error { return d.Pictures.SetName(picture, "juniors-boat") }},
		"Bench.GoTo":           {work, func(d *desk.Desk) error { return d.Bench.GoTo(picture, 0) }},
		"Cuts.MakeCuts":        {work, func(d *desk.Desk) error { _, err := d.Cuts.MakeCuts(picture, "thumb"); return err }},
		"Cuts.OpenCut":         {look, func(d *desk.Desk) error { _, err := d.Cuts.OpenCut("x"); return err }},
		"Bench.Measured":       {work, func(d *desk.Desk) error { _, err := d.Bench.Measured(picture, image.Rectangle{}, ""); return err }},
		"Visits.Check":         {look, func(d *desk.Desk) error { _, err := d.Visits.Check(ctx, b.PageID); return err }},
		"Publish.LivePages":    {look, func(d *desk.Desk) error { _, err := d.Publish.LivePages(); return err }},
		"Pages.AveragedPages":  {look, func(d *desk.Desk) error { _, err := d.Pages.AveragedPages(); return err }},
		"Bench.Telling":        {work, func(d *desk.Desk) error { _, err := d.Bench.Telling(picture); return err }},
		"Bench.Faces":          {work, func(d *desk.Desk) error { _, err := d.Bench.Faces(picture); return err }},
		"Bench.HideFaces":      {work, func(d *desk.Desk) error { return d.Bench.HideFaces(picture, []string{"1-1-1-1"}, veil.Cover) }},
		"Bench.AllowFaces":     {work, func(d *desk.Desk) error { return d.Bench.AllowFaces(picture, []string{"1-1-1-1"}, true) }},
		"Bench.CoverPerson":    {work, func(d *desk.Desk) error { return d.Bench.CoverPerson(picture, "a", "b", "1-1-1-1") }},
		"Bench.FollowVeil": {work, func(d *desk.Desk) error {
			return d.Bench.FollowVeil(picture, pictures.Newest, "a", 0, image.Rect(0, 0, 9, 9))
		}},
		"Bench.StandVeil": {work, func(d *desk.Desk) error { return d.Bench.StandVeil(picture, pictures.Newest, "a") }},
		"Landing.Finish": {work, func(d *desk.Desk) error {
			_, err := d.Landing.Finish(b.PageID, landing.Place{Block: "nowhere"}, "", "")
			return err
		}},
		"Landing.Retitle":   {work, func(d *desk.Desk) error { return d.Landing.Retitle(b.PageID, "", "Autumn") }},
		"Landing.Caption":   {work, func(d *desk.Desk) error { return d.Landing.Caption(b.PageID, landing.Place{Block: "nowhere"}, "", "") }},
		"Landing.Describe":  {work, func(d *desk.Desk) error { return d.Landing.Describe(b.PageID, landing.Place{Block: "nowhere"}, "", "") }},
		"Landing.Together":  {work, func(d *desk.Desk) error { _, err := d.Landing.Together(b.PageID, "nowhere", page.Pair); return err }},
		"Albums.Gather":     {work, func(d *desk.Desk) error { _, err := d.Albums.Gather(b.PageID, "nowhere"); return err }},
		"Pages.LinkTargets": {work, func(d *desk.Desk) error { _, err := d.Pages.LinkTargets(b.PageID, ""); return err }},
		"Pages.PageTitles":  {look, func(d *desk.Desk) error { _, err := d.Pages.PageTitles(picture); return err }},
		"Pages.Pages":       {look, func(d *desk.Desk) error { _, err := d.Pages.Pages(); return err }},
		"Pages.Page":        {look, func(d *desk.Desk) error { _, err := d.Pages.Page(b.PageID); return err }},
		"Pages.Counts":      {look, func(d *desk.Desk) error { _, err := d.Pages.Counts(); return err }},
		"Pages.Insert": {work, func(d *desk.Desk) error {
			_, err := d.Pages.Insert(b.PageID, page.Gap{}, page.Placement{Picture: picture, Slot: "column"})
			return err
		}},
		"Pages.SetPlacement": {work, func(d *desk.Desk) error {
			return d.Pages.SetPlacement(b.PageID, "a", 0, "", page.Placement{Slot: "column"})
		}},
		"Pages.TakeOff": {work, func(d *desk.Desk) error { return d.Pages.TakeOff(b.PageID, "a", 0, "") }},
		"Pages.AddBlock": {work, func(d *desk.Desk) error {
			_, err := d.Pages.AddBlock(b.PageID, page.Gap{}, page.Text, "", "")
			return err
		}},
		"Attachments.Add": {work, func(d *desk.Desk) error {
			_, err := d.Attachments.Add(b.PageID, page.Gap{}, "a.csv", strings.NewReader("a,b\n1,2\n"))
			return err
		}},
		"Attachments.Keep": {work, func(d *desk.Desk) error {
			_, err := d.Attachments.Keep("a.csv", strings.NewReader("a,b\n1,2\n"), "juniors")
			return err
		}},
		"Attachments.Place": {work, func(d *desk.Desk) error {
			_, err := d.Attachments.Place(b.PageID, page.Gap{}, file)
			return err
		}},
		"Attachments.Open":        {work, func(d *desk.Desk) error { _, _, err := d.Attachments.Open(file); return err }},
		"Attachments.Kept":        {look, func(d *desk.Desk) error { _, _, err := d.Attachments.Kept(); return err }},
		"Attachments.SetTitle":    {work, func(d *desk.Desk) error { return d.Attachments.SetTitle(file, "Sizes") }},
		"Attachments.ThrowAway":   {work, func(d *desk.Desk) error { return d.Attachments.ThrowAway(file) }},
		"Attachments.BringBack":   {work, func(d *desk.Desk) error { return d.Attachments.BringBack(file) }},
		"Attachments.Delete":      {work, func(d *desk.Desk) error { return d.Attachments.Delete(scrap.ID) }},
		"Attachments.Peek":        {anybody, func(d *desk.Desk) error { _, _, err := d.Attachments.Peek("a", strings.NewReader("")); return err }},
		"Attachments.OpenOffered": {work, func(d *desk.Desk) error { _, err := d.Attachments.OpenOffered(b.PageID, "x"); return err }},
		"Landing.Arrive": {work, func(d *desk.Desk) error {
			_, err := d.Landing.Arrive("a.csv", strings.NewReader("a,b\n1,2\n"), "juniors")
			return err
		}},
		"Landing.Land": {work, func(d *desk.Desk) error {
			_, err := d.Landing.Land(b.PageID, pages.Target{}, "a.jpg", strings.NewReader(""))
			return err
		}},
		"Pages.AddToStrip": {work, func(d *desk.Desk) error { return d.Pages.AddToStrip(b.PageID, "a", "", picture) }},
		"Pages.BeAt":       {work, func(d *desk.Desk) error { return d.Pages.BeAt(b.PageID, "a") }},
		"Pages.InTray":     {look, func(d *desk.Desk) error { _, err := d.Pages.InTray(picture); return err }},
		"Pages.Tray":       {look, func(d *desk.Desk) error { _, err := d.Pages.Tray("boat"); return err }},
		"Pages.Land": {work, func(d *desk.Desk) error {
			_, err := d.Pages.Land(b.PageID, pages.Target{}, "a.jpg", strings.NewReader(""))
			return err
		}},
		"Pages.Mend":             {work, func(d *desk.Desk) error { return d.Pages.Mend(b.PageID, "a", 0, audit.DropBlock, "") }},
		"Pages.MoveBlockTo":      {work, func(d *desk.Desk) error { return d.Pages.MoveBlockTo(b.PageID, "a", page.Gap{}) }},
		"Pages.PageLines":        {look, func(d *desk.Desk) error { _, err := d.Pages.PageLines(); return err }},
		"House.ConfirmRules":     {keep, func(d *desk.Desk) error { return d.House.ConfirmRules("why") }},
		"House.PageStyle":        {look, func(d *desk.Desk) error { _, err := d.House.PageStyle(b.PageID); return err }},
		"Pages.Replace":          {work, func(d *desk.Desk) error { return d.Pages.Replace(b.PageID, "a", 0, "", picture) }},
		"Publish.SectionArchive": {work, func(d *desk.Desk) error { return d.Publish.SectionArchive(io.Discard, "juniors", publish.Dressing{}) }},
		"Pages.SetBand":          {work, func(d *desk.Desk) error { return d.Pages.SetBand(b.PageID, "a", "", page.BandLayout{Pattern: "two"}) }},
		"Pages.Sides":            {anybody, func(d *desk.Desk) error { d.Pages.Sides(page.Stand{}); return nil }},
		"Pages.SetLevel":         {work, func(d *desk.Desk) error { return d.Pages.SetLevel(b.PageID, "a", 3) }},
		"Pages.SetText":          {work, func(d *desk.Desk) error { return d.Pages.SetText(b.PageID, "a", "", "Other words") }},
		"Pages.MoveBlock":        {work, func(d *desk.Desk) error { return d.Pages.MoveBlock(b.PageID, "a", 1) }},
		"Pages.DropBlock":        {work, func(d *desk.Desk) error { return d.Pages.DropBlock(b.PageID, "a", "") }},
		"Pages.SetDetails":       {work, func(d *desk.Desk) error { return d.Pages.SetDetails(b.PageID, "", page.Details{Whom: "juniors"}) }},
		"Pages.SetList": {work, func(d *desk.Desk) error {
			return d.Pages.SetList(b.PageID, "a", "", page.Listing{Of: page.OfTag, Look: page.Bare})
		}},
		"Pages.Tags":   {look, func(d *desk.Desk) error { _, err := d.Pages.Tags(); return err }},
		"Shelves.Take": {look, func(d *desk.Desk) error { _, err := d.Shelves.Take(picture, shelves.Take{Slot: "side"}); return err }},
		"Shelves.OpenTaken": {look, func(d *desk.Desk) error {
			_, _, err := d.Shelves.OpenTaken(picture, shelves.Take{Slot: "side"})
			return err
		}},
		"Publish.Ahead":      {work, func(d *desk.Desk) error { return d.Publish.Ahead(b.PageID) }},
		"Banners.Shown":      {look, func(d *desk.Desk) error { _, err := d.Banners.Shown(notice, false); return err }},
		"Banners.Calendar":   {look, func(d *desk.Desk) error { _, err := d.Banners.Calendar(); return err }},
		"Banners.Of":         {look, func(d *desk.Desk) error { _, err := d.Banners.Of(notice); return err }},
		"Banners.Banner":     {look, func(d *desk.Desk) error { _, err := d.Banners.Banner(notice); return err }},
		"Banners.Why":        {look, func(d *desk.Desk) error { _, err := d.Banners.Why(notice, b.PageID); return err }},
		"Banners.Counts":     {look, func(d *desk.Desk) error { return d.Banners.Counts(io.Discard, notice) }},
		"Banners.Begin":      {work, func(d *desk.Desk) error { _, err := d.Banners.Begin("juniors", "Rope", "foot"); return err }},
		"Banners.Set":        {work, func(d *desk.Desk) error { return d.Banners.Set(notice, 1, banner.Doc{Title: "Rope", Spot: "foot"}) }},
		"Banners.SetDays":    {work, func(d *desk.Desk) error { return d.Banners.SetDays(notice, "", "2026-05-14") }},
		"Banners.SetPicture": {work, func(d *desk.Desk) error { return d.Banners.SetPicture(notice, 0) }},
		"Banners.Bring": {work, func(d *desk.Desk) error {
			_, err := d.Banners.Bring(notice, "a.jpg", strings.NewReader(""))
			return err
		}},
		"Banners.ShowStep":     {work, func(d *desk.Desk) error { return d.Banners.ShowStep(notice, 0) }},
		"Banners.Stop":         {work, func(d *desk.Desk) error { return d.Banners.Stop(notice) }},
		"Banners.GoOn":         {publishes, func(d *desk.Desk) error { return d.Banners.GoOn(notice) }},
		"Banners.Approve":      {publishes, func(d *desk.Desk) error { return d.Banners.Approve(notice, banners.Seen{}) }},
		"Banners.Drop":         {work, func(d *desk.Desk) error { return d.Banners.Drop(notice) }},
		"Banners.BringBack":    {work, func(d *desk.Desk) error { return d.Banners.BringBack(notice) }},
		"Banners.SaveOccasion": {publishesSomewhere, func(d *desk.Desk) error { return d.Banners.SaveOccasion(store.Occasion{}) }},
		"Banners.DropOccasion": {publishesSomewhere, func(d *desk.Desk) error { return d.Banners.DropOccasion(99) }},
		"Banners.Frames":       {anybody, func(d *desk.Desk) error { _, err := d.Banners.Frames(b.PageID, nil); return err }},
		"Banners.Choose":       {anybody, func(d *desk.Desk) error { _, _, err := d.Banners.Choose("foot", b.PageID, true); return err }},
		"Banners.Count": {anybody, func(d *desk.Desk) error {
			ended, end := context.WithCancel(ctx)
			end()
			d.Banners.Count(ended, time.Hour, func(error) {})
			return nil
		}},
		"Banners.Follow": {anybody, func(d *desk.Desk) error { _, _ = d.Banners.Follow(notice, true); return nil }},
		"Banners.Place":  {work, func(d *desk.Desk) error { return d.Banners.Place(b.PageID, page.Gap{}, "foot") }},
		"Albums.All":     {look, func(d *desk.Desk) error { _, err := d.Albums.All(false); return err }},
		"Albums.Of":      {look, func(d *desk.Desk) error { _, err := d.Albums.Of(held); return err }},
		"Albums.Album":   {look, func(d *desk.Desk) error { _, err := d.Albums.Album(held); return err }},
		"Albums.EnterAlbum": {look, func(d *desk.Desk) error {
			v, err := d.Albums.EnterAlbum(held)
			if err == nil {
				v.Leave()
			}
			return err
		}},
		"Albums.Begin":      {work, func(d *desk.Desk) error { _, err := d.Albums.Begin("juniors", "Autumn", nil); return err }},
		"Albums.Add":        {work, func(d *desk.Desk) error { return d.Albums.Add(held, picture) }},
		"Albums.TakeOut":    {work, func(d *desk.Desk) error { return d.Albums.TakeOut(held, 0) }},
		"Albums.Move":       {work, func(d *desk.Desk) error { return d.Albums.Move(held, picture, 1) }},
		"Albums.MoveTo":     {work, func(d *desk.Desk) error { return d.Albums.MoveTo(held, nil, 0) }},
		"Albums.SetOrder":   {work, func(d *desk.Desk) error { return d.Albums.SetOrder(held, album.ByName) }},
		"Albums.SetLead":    {work, func(d *desk.Desk) error { return d.Albums.SetLead(held, picture) }},
		"Albums.SetTitle":   {work, func(d *desk.Desk) error { return d.Albums.SetTitle(held, "Autumn") }},
		"Albums.SetRule":    {work, func(d *desk.Desk) error { return d.Albums.SetRule(held, album.Rule{}) }},
		"Albums.Describe":   {work, func(d *desk.Desk) error { return d.Albums.Describe(held, picture, pictures.Newest, "A boat") }},
		"Albums.SetCaption": {work, func(d *desk.Desk) error { return d.Albums.SetCaption(held, picture, "", "") }},
		"Albums.ShowStep":   {work, func(d *desk.Desk) error { return d.Albums.ShowStep(held, 0) }},
		"Albums.Drop":       {work, func(d *desk.Desk) error { return d.Albums.Drop(held) }},
		"Albums.BringBack":  {work, func(d *desk.Desk) error { return d.Albums.BringBack(held) }},
		"Albums.Prepare":    {work, func(d *desk.Desk) error { _, err := d.Albums.Prepare(held); return err }},
		"Albums.Archive":    {work, func(d *desk.Desk) error { _, err := d.Albums.Archive(io.Discard, held, 0); return err }},
		"Albums.Bring":      {work, func(d *desk.Desk) error { _, err := d.Albums.Bring(held, "a.jpg", strings.NewReader("")); return err }},
		"Albums.BringArchive": {work, func(d *desk.Desk) error {
			_, _, err := d.Albums.BringArchive("juniors", "Autumn", strings.NewReader(""))
			return err
		}},
		"Albums.Placeable": {look, func(d *desk.Desk) error { _, err := d.Albums.Placeable(); return err }},
		"Albums.Place":     {work, func(d *desk.Desk) error { _, err := d.Albums.Place(b.PageID, page.Gap{}, held); return err }},
		"Albums.SetShown":  {work, func(d *desk.Desk) error { return d.Albums.SetShown(b.PageID, "a", "", page.AlbumShow{Album: held}) }},
		"Covers.All":       {look, func(d *desk.Desk) error { _, err := d.Covers.All(); return err }},
		"Covers.Of":        {look, func(d *desk.Desk) error { _, err := d.Covers.Of(b.PageID); return err }},
		"Covers.Set":       {work, func(d *desk.Desk) error { return d.Covers.Set(b.PageID, "", 0) }},
		"Covers.Frame":     {work, func(d *desk.Desk) error { return d.Covers.Frame(b.PageID, "", fit.Centre, 1) }},
		"Covers.SetLink":   {work, func(d *desk.Desk) error { return d.Covers.SetLink(b.PageID, "", 0) }},
		"Covers.FrameLink": {work, func(d *desk.Desk) error { return d.Covers.FrameLink(b.PageID, "", fit.Centre, 1) }},
		"Covers.OfLink":    {look, func(d *desk.Desk) error { _, _, err := d.Covers.OfLink(b.PageID); return err }},
		"Covers.Fill":      {work, func(d *desk.Desk) error { _, err := d.Covers.Fill([]uint{b.PageID}, []uint{picture}); return err }},
		"Backgrounds.Set":  {work, func(d *desk.Desk) error { return d.Backgrounds.Set(b.PageID, "", "", nil) }},
		"Backgrounds.Of":   {work, func(d *desk.Desk) error { _, err := d.Backgrounds.Of(b.PageID, ""); return err }},
		"Backgrounds.Look": {look, func(d *desk.Desk) error { _, err := d.Backgrounds.Look(b.PageID, "", layout.Phone); return err }},
		"Derive.BoxLook": {look, func(d *desk.Desk) error {
			_, err := d.Derive.BoxLook(page.Cover{Picture: picture}, fit.Size{W: 90, H: 90})
			return err
		}},
		"Previews.Of":          {look, func(d *desk.Desk) error { _, err := d.Previews.Of(ctx, b.PageID); return err }},
		"Previews.Look":        {look, func(d *desk.Desk) error { _, err := d.Previews.Look(b.PageID); return err }},
		"Previews.Picture":     {look, func(d *desk.Desk) error { _, err := d.Previews.Picture(ctx, b.PageID, "large"); return err }},
		"Previews.LivePicture": {look, func(d *desk.Desk) error { _, err := d.Previews.LivePicture(b.PageID); return err }},
		"Previews.FetchAgain":  {work, func(d *desk.Desk) error { return d.Previews.FetchAgain(ctx, b.PageID) }},
		"Covers.SetCard":       {work, func(d *desk.Desk) error { return d.Covers.SetCard(b.PageID, "", nil) }},
		"Pages.Bring":          {work, func(d *desk.Desk) error { _, err := d.Pages.Bring(b.PageID, "x", strings.NewReader("x")); return err }},
		"Covers.BeginFront":    {work, func(d *desk.Desk) error { _, err := d.Covers.BeginFront("juniors", ""); return err }},
		"Lists.UseLayout":      {keep, func(d *desk.Desk) error { return d.Lists.UseLayout(desktest.PlainLayout) }},
		"Lists.Shown":          {look, func(d *desk.Desk) error { _, _, err := d.Lists.Shown(b.PageID); return err }},
		"Lists.Draft": {look, func(d *desk.Desk) error {
			_, err := d.Lists.Draft(store.Page{}, page.Block{List: &page.Listing{}}, "")
			return err
		}},
		"Pages.NewPage":  {work, func(d *desk.Desk) error { _, err := d.Pages.NewPage("juniors", "Spring", "empty"); return err }},
		"Deleted.Delete": {work, func(d *desk.Desk) error { return d.Deleted.Delete(scrapPage()) }},
		"Deleted.BringBack": {work, func(d *desk.Desk) error {
			id := scrapPage()
			require.NoError(b.T, b.Deleted.Delete(id))
			return d.Deleted.BringBack(id)
		}},
		"Deleted.Pages":    {look, func(d *desk.Desk) error { _, err := d.Deleted.Pages(); return err }},
		"Deleted.EmptyBin": {keep, func(d *desk.Desk) error { _, err := d.Deleted.EmptyBin(); return err }},
		"Samples.Now":      {look, func(d *desk.Desk) error { _, err := d.Samples.Now(); return err }},
		"Samples.Begin":    {work, func(d *desk.Desk) error { _, err := d.Samples.Begin("juniors"); return err }},
		"Samples.Remove": {work, func(d *desk.Desk) error {
			_, err := b.Samples.Begin("juniors")
			require.NoError(b.T, err)
			_, err = d.Samples.Remove()
			return err
		}},
		"Pages.DuplicatePage":    {work, func(d *desk.Desk) error { _, err := d.Pages.DuplicatePage(b.PageID); return err }},
		"Pages.RenamePage":       {work, func(d *desk.Desk) error { return d.Pages.RenamePage(b.PageID, "Autumn", "autumn") }},
		"Pages.HandOver":         {work, func(d *desk.Desk) error { return d.Pages.HandOver(b.PageID, "juniors") }},
		"Publish.PutBack":        {publishes, func(d *desk.Desk) error { _, err := d.Publish.PutBack(ctx, b.PageID, 1); return err }},
		"Publish.TakePageOff":    {publishes, func(d *desk.Desk) error { return d.Publish.TakePageOff(b.PageID) }},
		"Publish.PublishChanged": {look, func(d *desk.Desk) error { _, err := d.Publish.PublishChanged(0, desktest.PlainLayout); return err }},
		"Publish.Whereabouts":    {anybody, func(d *desk.Desk) error { _, _, err := d.Publish.Whereabouts("a", "b"); return err }},
		"Publish.Changes":        {look, func(d *desk.Desk) error { _, err := d.Publish.Changes(b.PageID); return err }},
		"Publish.Lives":          {look, func(d *desk.Desk) error { _, err := d.Publish.Lives(b.PageID); return err }},
		"Publish.PageHTML":       {work, func(d *desk.Desk) error { _, err := d.Publish.PageHTML(b.PageID, ""); return err }},
		"Publish.PageArchive":    {work, func(d *desk.Desk) error { return d.Publish.PageArchive(io.Discard, b.PageID, publish.Dressing{}) }},
		"House.Weights":          {work, func(d *desk.Desk) error { _, err := d.House.Weights(b.PageID); return err }},
		"House.PagePreview":      {work, func(d *desk.Desk) error { _, err := d.House.PagePreview(b.PageID, "", ""); return err }},
		"Pages.PageVersion":      {look, func(d *desk.Desk) error { _, err := d.Pages.PageVersion(b.PageID); return err }},
		"Pages.EnterPage": {look, func(d *desk.Desk) error {
			v, err := d.Pages.EnterPage(b.PageID)
			if err == nil {
				v.Leave()
			}
			return err
		}},
		"Pages.PageStep": {work, func(d *desk.Desk) error { return d.Pages.PageStep(b.PageID, 1, 0) }},
		"Publish.Publish": {publishes, func(d *desk.Desk) error {
			_, err := d.Publish.Publish(ctx, b.PageID, snapshot.Seen{}, "", desktest.PlainLayout)
			return err
		}},
		"Derive.Thumb": {look, func(d *desk.Desk) error { _, _, err := d.Derive.Thumb(picture); return err }},
		"Derive.Look":  {look, func(d *desk.Desk) error { _, _, err := d.Derive.Look(picture); return err }},
		"Bench.Send": {work, func(d *desk.Desk) error {
			return d.Bench.Send([]uint{picture}, bench.Assignment{Slot: "column", Section: "juniors"})
		}},
		"Pictures.ExampleName": {look, func(d *desk.Desk) error { _, _, err := d.Pictures.ExampleName(rules.Default()); return err }},
		"Bench.Bring": {work, func(d *desk.Desk) error {
			_, err := d.Bench.Bring("juniors", "column", "a.jpg", strings.NewReader(""))
			return err
		}},
		"Bench.Edit":        {work, func(d *desk.Desk) error { return d.Bench.Edit(picture, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}) }},
		"Bench.SetVeil":     {work, func(d *desk.Desk) error { return d.Bench.SetVeil(picture, pictures.Newest, veil.Veil{}) }},
		"Bench.DropVeil":    {work, func(d *desk.Desk) error { return d.Bench.DropVeil(picture, pictures.Newest, "x") }},
		"Bench.RepeatVeils": {work, func(d *desk.Desk) error { _, err := d.Bench.RepeatVeils(picture); return err }},
		"Bench.TrimBorder":  {work, func(d *desk.Desk) error { return d.Bench.TrimBorder(picture) }},
		"Derive.StageStill": {work, func(d *desk.Desk) error { _, err := d.Derive.StageStill(picture, -1); return err }},
		"Derive.Stage":      {work, func(d *desk.Desk) error { _, err := d.Derive.Stage(picture, -1); return err }},
		"Derive.Tile":       {work, func(d *desk.Desk) error { _, err := d.Derive.Tile(picture, 0, 0, 0); return err }},
		"Derive.VeilLook":   {work, func(d *desk.Desk) error { _, _, err := d.Derive.VeilLook(picture, -1, veil.Veil{}); return err }},
		"Derive.TextLines":  {work, func(d *desk.Desk) error { _, err := d.Derive.TextLines(picture); return err }},
		"Bench.AddVeils":    {work, func(d *desk.Desk) error { return d.Bench.AddVeils(picture, nil) }},
		"Bench.Boxes":       {work, func(d *desk.Desk) error { _, err := d.Bench.Boxes(picture, nil); return err }},
		"Bench.SetAlso":     {work, func(d *desk.Desk) error { return d.Bench.SetAlso(picture, "thumb", true) }},
		"Bench.SetBudget":   {work, func(d *desk.Desk) error { return d.Bench.SetBudget(picture, "thumb", 0) }},
		"Bench.SetStill":    {work, func(d *desk.Desk) error { return d.Bench.SetStill(picture, 0) }},
		"Derive.FrameThumb": {work, func(d *desk.Desk) error { _, err := d.Derive.FrameThumb(picture, 0); return err }},
		"Cuts.PlainCut":     {work, func(d *desk.Desk) error { _, err := d.Cuts.PlainCut(picture, ""); return err }},
		"Cuts.TryCut":       {work, func(d *desk.Desk) error { _, err := d.Cuts.TryCut(picture, "", 0); return err }},
		"Bench.CutAll":      {work, func(d *desk.Desk) error { _, err := d.Bench.CutAll(picture); return err }},
		"Bench.CutBatch":    {look, func(d *desk.Desk) error { _, err := d.Bench.CutBatch(); return err }},
		"Bench.ApplyStep":   {work, func(d *desk.Desk) error { _, err := d.Bench.ApplyStep(picture, 1, []uint{picture}); return err }},
		"Bench.CarryOver":   {work, func(d *desk.Desk) error { return d.Bench.CarryOver(picture, picture, 0, 0) }},
		"Bench.Shown":       {work, func(d *desk.Desk) error { _, err := d.Bench.Shown(picture); return err }},
		"Bench.EnterBench": {work, func(d *desk.Desk) error {
			v, err := d.Bench.EnterBench(picture)
			if err == nil {
				v.Leave()
			}
			return err
		}},
		"Bench.NextLacking":   {look, func(d *desk.Desk) error { _, err := d.Bench.NextLacking(picture); return err }},
		"Pictures.PlanNames":  {work, func(d *desk.Desk) error { _, err := d.Pictures.PlanNames([]uint{picture}, "A boat"); return err }},
		"Pictures.Rename":     {work, func(d *desk.Desk) error { return d.Pictures.Rename(map[uint]string{picture: "juniors-boat"}) }},
		"Shelves.Shelves":     {look, func(d *desk.Desk) error { _, err := d.Shelves.Shelves(store.ShelfQuery{}); return err }},
		"Shelves.PictureCard": {look, func(d *desk.Desk) error { _, err := d.Shelves.PictureCard(picture); return err }},
		"Shelves.Move":        {work, func(d *desk.Desk) error { return d.Shelves.Move([]uint{picture}, "a") }},
		"Shelves.Tag":         {work, func(d *desk.Desk) error { return d.Shelves.Tag([]uint{picture}, []string{"lake"}, nil) }},
		"Shelves.AddFolder":   {work, func(d *desk.Desk) error { return d.Shelves.AddFolder("juniors", "a") }},
		"Shelves.DropFolder":  {work, func(d *desk.Desk) error { return d.Shelves.DropFolder("juniors", "nothing") }},
		"Shelves.NewVariant":  {work, func(d *desk.Desk) error { _, err := d.Shelves.NewVariant(picture); return err }},
		"Shelves.SwapFile":    {work, func(d *desk.Desk) error { _, err := d.Shelves.SwapFile(picture, "a", bytes.NewReader(nil)); return err }},
		"Pictures.SetWords": {work, func(d *desk.Desk) error {
			return d.Pictures.SetWords(picture, pictures.Newest, pictures.Words{Alt: "A boat"})
		}},
		"Pictures.CheckWords":  {work, func(d *desk.Desk) error { _, err := d.Pictures.CheckWords(picture, pictures.Words{}); return err }},
		"Jobs.Resume":          {keep, func(d *desk.Desk) error { return d.Jobs.Resume() }},
		"Jobs.All":             {keep, func(d *desk.Desk) error { _, err := d.Jobs.All(); return err }},
		"Privacy.Kept":         {keep, func(d *desk.Desk) error { _, err := d.Privacy.Kept(ctx, 14); return err }},
		"Privacy.About":        {keep, func(d *desk.Desk) error { _, err := d.Privacy.About("Pell"); return err }},
		"Retention.Tidy":       {keep, func(d *desk.Desk) error { _, err := d.Retention.Tidy(); return err }},
		"Retention.Leaving":    {look, func(d *desk.Desk) error { _, err := d.Retention.Leaving(); return err }},
		"Retention.Keep":       {work, func(d *desk.Desk) error { return d.Retention.Keep([]uint{picture}) }},
		"Shelves.EmptyBin":     {keep, func(d *desk.Desk) error { _, err := d.Shelves.EmptyBin(); return err }},
		"Intake.InsertCard":    {measure, func(d *desk.Desk) error { return d.Intake.InsertCard(true) }},
		"Intake.Card":          {look, func(d *desk.Desk) error { _, err := d.Intake.Card(); return err }},
		"Intake.TakeFromCard":  {work, func(d *desk.Desk) error { _, err := d.Intake.TakeFromCard(nil, "juniors"); return err }},
		"Intake.BringPages":    {work, func(d *desk.Desk) error { _, err := d.Intake.BringPages(picture); return err }},
		"Derive.Preview":       {work, func(d *desk.Desk) error { _, err := d.Derive.Preview(picture); return err }},
		"Publish.Published":    {anybody, func(d *desk.Desk) error { _, err := d.Publish.Published("/x", ""); return err }},
		"Publish.LiveLinks":    {anybody, func(d *desk.Desk) error { _, err := d.Publish.LiveLinks(); return err }},
		"Lighter.Make":         {keep, func(d *desk.Desk) error { return d.Lighter.Make(ctx, desktest.PlainLayout) }},
		"Lighter.Progress":     {look, func(d *desk.Desk) error { _, _, err := d.Lighter.Progress(store.Page{ID: b.PageID}); return err }},
		"People.OwnSessions":   {look, func(d *desk.Desk) error { _, err := d.People.OwnSessions(); return err }},
		"People.EndSession":    {look, func(d *desk.Desk) error { return d.People.EndSession(99) }},
		"People.Own":           {look, func(d *desk.Desk) error { _, err := d.People.Own(); return err }},
		"People.BeginSecond":   {look, func(d *desk.Desk) error { _, err := d.People.BeginSecond(); return err }},
		"People.ConfirmSecond": {look, func(d *desk.Desk) error { _, err := d.People.ConfirmSecond("1"); return err }},
		"People.DropSecond":    {look, func(d *desk.Desk) error { return d.People.DropSecond("x") }},
		"People.DropSecondOf":  {keep, func(d *desk.Desk) error { return d.People.DropSecondOf(99) }},
		"People.Confirm":       {look, func(d *desk.Desk) error { _, err := d.People.Confirm("x"); return err }},
		"Passkeys.Own":         {look, func(d *desk.Desk) error { _, err := d.Passkeys.Own(); return err }},
		"Passkeys.Begin":       {look, func(d *desk.Desk) error { _, err := d.Passkeys.Begin("https://a.example", "x"); return err }},
		"Passkeys.Add":         {look, func(d *desk.Desk) error { return d.Passkeys.Add("x", nil, "x") }},
		"Passkeys.Remove":      {look, func(d *desk.Desk) error { return d.Passkeys.Remove(99) }},
		"Passkeys.Of":          {keep, func(d *desk.Desk) error { _, err := d.Passkeys.Of(99); return err }},
		"Passkeys.DropOf":      {keep, func(d *desk.Desk) error { return d.Passkeys.DropOf(99) }},
		"Passkeys.Ask":         {anybody, func(d *desk.Desk) error { _, err := d.Passkeys.Ask("https://a.example"); return err }},
		"Passkeys.SignIn":      {anybody, func(d *desk.Desk) error { _, err := d.Passkeys.SignIn("x", nil, "x"); return err }},
		"Passkeys.Offered":     {anybody, func(d *desk.Desk) error { _, err := d.Passkeys.Offered("https://a.example"); return err }},
		"People.TidySessions":  {keep, func(d *desk.Desk) error { return d.People.TidySessions() }},
		"Provider.Settings":    {keep, func(d *desk.Desk) error { _, _, err := d.Provider.Settings(); return err }},
		"Provider.Save":        {keep, func(d *desk.Desk) error { return d.Provider.Save(ctx, store.Provider{}, "", "") }},
		"Provider.Remove":      {keep, func(d *desk.Desk) error { return d.Provider.Remove() }},
		"House.TryLighter":     {keep, func(d *desk.Desk) error { _, err := d.House.TryLighter(); return err }},
		"House.RulesDraft":     {look, func(d *desk.Desk) error { _, err := d.House.RulesDraft(); return err }},
		"House.ChangeRules": {keep, func(d *desk.Desk) error {
			return d.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r, nil })
		}},
		"House.DropRulesDraft": {keep, func(d *desk.Desk) error { return d.House.DropRulesDraft() }},
		"House.ImportRules":    {keep, func(d *desk.Desk) error { return d.House.ImportRules([]byte("{}")) }},
		"House.DryRun":         {keep, func(d *desk.Desk) error { _, err := d.House.DryRun(); return err }},
		"House.ApplyRules":     {keep, func(d *desk.Desk) error { _, err := d.House.ApplyRules("why"); return err }},
		"House.RulesVersions":  {look, func(d *desk.Desk) error { _, err := d.House.RulesVersions(); return err }},
		"House.CompareRules":   {look, func(d *desk.Desk) error { _, err := d.House.CompareRules(0, 1); return err }},
		"House.BringBackRules": {keep, func(d *desk.Desk) error { return d.House.BringBackRules(1) }},
		"Jobs.Job":             {look, func(d *desk.Desk) error { _, err := d.Jobs.Job(9); return err }},
		"Jobs.Stop":            {look, func(d *desk.Desk) error { return d.Jobs.Stop(9) }},
		"People.SignIn":        {anybody, func(d *desk.Desk) error { _, err := d.People.SignIn("nobody", "nothing at all", "here"); return err }},
		"People.DemoPeople":    {anybody, func(d *desk.Desk) error { _, err := d.People.DemoPeople(); return err }},
		"People.Returning":     {anybody, func(d *desk.Desk) error { _, _, err := d.People.Returning(1, 0); return err }},
		"People.NeedsKeeper":   {anybody, func(d *desk.Desk) error { _, err := d.People.NeedsKeeper(); return err }},
		"People.FirstKeeper":   {anybody, func(d *desk.Desk) error { _, err := d.People.FirstKeeper("", "", "", "", ""); return err }},
		"People.SaveAccount":   {keep, func(d *desk.Desk) error { _, err := d.People.SaveAccount(people.Account{Name: "x"}); return err }},
		"People.Invite":        {keep, func(d *desk.Desk) error { _, _, err := d.People.Invite(1); return err }},
		"People.Invited":       {anybody, func(d *desk.Desk) error { _, err := d.People.Invited("nothing", "here"); return err }},
		"People.Join": {anybody, func(d *desk.Desk) error {
			_, err := d.People.Join("nothing", "four words in a row", "here")
			return err
		}},
		"People.SetOwnPassword": {look, func(d *desk.Desk) error { _, err := d.People.SetOwnPassword("a", "b"); return err }},
		"People.People":         {keep, func(d *desk.Desk) error { _, err := d.People.People(); return err }},
		"People.Trail":          {keep, func(d *desk.Desk) error { _, err := d.People.Trail(store.TrailFilter{}); return err }},
		"TakeAlong.Pack": {work, func(d *desk.Desk) error {
			return d.TakeAlong.Pack(io.Discard, b.PageID, func(takealong.Packed) (map[string][]byte, error) { return nil, nil })
		}},
		"Destinations.All":       {keep, func(d *desk.Desk) error { _, err := d.Destinations.All(); return err }},
		"Running.Report":         {keep, func(d *desk.Desk) error { _, err := d.Running.Report(context.Background()); return err }},
		"Destinations.Of":        {keep, func(d *desk.Desk) error { _, err := d.Destinations.Of(1); return err }},
		"Destinations.Save":      {keep, func(d *desk.Desk) error { _, err := d.Destinations.Save(destinations.Change{}); return err }},
		"Destinations.Remove":    {keep, func(d *desk.Desk) error { return d.Destinations.Remove(1) }},
		"Destinations.Pause":     {keep, func(d *desk.Desk) error { return d.Destinations.Pause(1, true) }},
		"Destinations.Overwrite": {keep, func(d *desk.Desk) error { return d.Destinations.Overwrite(1, nil) }},
		"Destinations.DryRun":    {keep, func(d *desk.Desk) error { _, err := d.Destinations.DryRun(ctx, 1); return err }},
		"Destinations.Send":      {keep, func(d *desk.Desk) error { _, err := d.Destinations.Send(ctx, 1); return err }},
		"Destinations.Trust": {keep, func(d *desk.Desk) error {
			return d.Destinations.Trust(1, "ssh-ed25519 AAAAC3NzaC1lZDI1NTE5AAAAIJ3qQ3v0pXK6g4yH7n1cQvI8cKc1q7Jm0cV6n2n3m4Q9")
		}},
		"Destinations.Begin":   {keep, func(d *desk.Desk) error { return d.Destinations.Begin(1) }},
		"People.SectionPeople": {look, func(d *desk.Desk) error { _, err := d.People.SectionPeople("juniors"); return err }},
		"Measure.AddSheet":     {measure, func(d *desk.Desk) error { _, err := d.Measure.AddSheet("a", bytes.NewReader(nil), 1); return err }},
		"Measure.Sheets":       {look, func(d *desk.Desk) error { _, err := d.Measure.Sheets(); return err }},
		"Measure.Sheet":        {look, func(d *desk.Desk) error { _, err := d.Measure.Sheet(1); return err }},
		"Measure.SheetImage":   {look, func(d *desk.Desk) error { _, err := d.Measure.SheetImage(1); return err }},
		"Measure.SheetLines":   {look, func(d *desk.Desk) error { _, err := d.Measure.SheetLines(1); return err }},
		"Measure.FindColumns":  {look, func(d *desk.Desk) error { _, err := d.Measure.FindColumns(1); return err }},
		"Measure.SetScale":     {measure, func(d *desk.Desk) error { return d.Measure.SetScale(1, 2, 0, 0) }},
		"Measure.AddReading":   {measure, func(d *desk.Desk) error { return d.Measure.AddReading(1, false, 0, 1, "") }},
		"Measure.DropReading":  {measure, func(d *desk.Desk) error { return d.Measure.DropReading(1, 1) }},
		"Former.Sites":         {measure, func(d *desk.Desk) error { _, err := d.Former.Sites(); return err }},
		"Former.Of":            {measure, func(d *desk.Desk) error { _, err := d.Former.Of(1); return err }},
		"Former.Changes":       {measure, func(d *desk.Desk) error { _, _, err := d.Former.Changes(1); return err }},
		"Former.Open":          {measure, func(d *desk.Desk) error { _, err := d.Former.Open(1, false, ""); return err }},
		"Former.Small":         {measure, func(d *desk.Desk) error { _, err := d.Former.Small(1, "a", 9); return err }},
		"Former.Next":          {measure, func(d *desk.Desk) error { _, _, _, err := d.Former.Next(1, mend.Spot{}); return err }},
		"Former.Describe":      {measure, func(d *desk.Desk) error { _, err := d.Former.Describe(1, mend.Spot{}, "x", false); return err }},
		"Former.Names":         {measure, func(d *desk.Desk) error { _, _, err := d.Former.Names(1); return err }},
		"Former.Rename":        {measure, func(d *desk.Desk) error { return d.Former.Rename(1, nil) }},
		"Former.Leave":         {measure, func(d *desk.Desk) error { return d.Former.Leave(1, "a") }},
		"Former.TakeBack":      {measure, func(d *desk.Desk) error { return d.Former.TakeBack(1, 1) }},
		"Former.Take":          {measure, func(d *desk.Desk) error { _, _, err := d.Former.Take(1); return err }},
		"CarryOver.Pages":      {measure, func(d *desk.Desk) error { _, _, err := d.CarryOver.Pages(1); return err }},
		"CarryOver.Begin":      {work, func(d *desk.Desk) error { _, err := d.CarryOver.Begin(1, []string{"a"}, "juniors"); return err }},
		"Former.Known":         {measure, func(d *desk.Desk) error { _, err := d.Former.Known(1); return err }},
		"BringIn.FetchFrom":    {keep, func(d *desk.Desk) error { _, err := d.BringIn.FetchFrom("x"); return err }},
		"Former.LookInto":      {keep, func(d *desk.Desk) error { _, err := d.Former.LookInto(1); return err }},
		"Former.Allow":         {measure, func(d *desk.Desk) error { return d.Former.Allow(1, "a") }},
		"Former.ToCover":       {work, func(d *desk.Desk) error { _, err := d.Former.ToCover(1, "a", "juniors"); return err }},
		"BringIn.FetchOn":      {keep, func(d *desk.Desk) error { _, err := d.BringIn.FetchOn(1); return err }},
		"BringIn.Bring": {keep, func(d *desk.Desk) error {
			_, err := d.BringIn.Bring(ctx, "a.zip", strings.NewReader(""), nil)
			return err
		}},
		"BringIn.BringFolder": {keep, func(d *desk.Desk) error {
			_, err := d.BringIn.BringFolder(ctx, "a", func() (string, io.Reader, error) { return "", nil, io.EOF }, nil)
			return err
		}},
		"District.All":      {keep, func(d *desk.Desk) error { _, err := d.District.All("", district.ByNeed); return err }},
		"District.One":      {keep, func(d *desk.Desk) error { _, err := d.District.One("north.district.example"); return err }},
		"District.Add":      {keep, func(d *desk.Desk) error { _, err := d.District.Add("north.district.example"); return err }},
		"District.Allot":    {keep, func(d *desk.Desk) error { return d.District.Allot("north.district.example", nil) }},
		"District.Given":    {keep, func(d *desk.Desk) error { _, err := d.District.Given(); return err }},
		"District.Give":     {keep, func(d *desk.Desk) error { return d.District.Give(nil, "") }},
		"Former.Compared":   {measure, func(d *desk.Desk) error { _, err := d.Former.Compared(1); return err }},
		"Former.CompareAll": {keep, func(d *desk.Desk) error { _, err := d.Former.CompareAll(1); return err }},
		"Former.Mend":       {keep, func(d *desk.Desk) error { _, err := d.Former.Mend(1); return err }},
		"Rounds.View":       {look, func(d *desk.Desk) error { _, err := d.Rounds.View(); return err }},
		"Rounds.Go":         {publishesSomewhere, func(d *desk.Desk) error { _, err := d.Rounds.Go(0); return err }},
		"Rounds.Leave":      {publishesSomewhere, func(d *desk.Desk) error { return d.Rounds.Leave(nil) }},
		"Rounds.TakeUp":     {publishesSomewhere, func(d *desk.Desk) error { return d.Rounds.TakeUp(nil) }},
		"Former.Drop":       {keep, func(d *desk.Desk) error { return d.Former.Drop(1, "x") }},
		"Measure.DropSheet": {measure, func(d *desk.Desk) error { return d.Measure.DropSheet(1) }},
	}
}

// notUseCases are methods that do nothing to the house's things, or check a
// right of their own kind.
var notUseCases = []string{"District.Office", "Jobs.LeaveToOthers", "Pages.Sides", "House.SameInAll", "Lists.Layout", "Pictures.Warm", "Jobs.End", "Jobs.Busy", "Pictures.Propose", "Pictures.TooSmallFor", "People.DemoSignIn", "People.SignOutEverywhere", "People.FirstCode", "People.Ended", "Derive.DecodingNow", "Derive.CanRead", "Derive.Inspect", "Mirror.UseSite", "Destinations.Run", "Rounds.Run", "BringIn.Fetching", "CarryOver.Going", "Running.Note", "Lighter.Run", "Provider.Offered", "Provider.Begin", "People.Begin", "People.Continues", "People.SignedOut", "People.SecondStep", "Provider.Finish"}

// The whole matrix: every use case as everybody, refused or not exactly as the
// roles say.
func TestEveryUseCaseForEverybody(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	people := map[string]struct {
		desk *desk.Desk
		most need // the most they may do for juniors
		any  bool // works for some section
	}{}
	add := func(name string, p store.Person, most need, any bool) {
		p.Name, p.Login, p.CreatedAt = name, name, b.Time()
		require.NoError(t, b.Kept.SavePerson(&p))
		who, ok, err := b.People.Returning(p.ID, 0)
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
	add("publisher", store.Person{Roles: []store.Role{{Section: "juniors", Role: "publisher"}}}, publishes, true)
	add("keeper", store.Person{Keeper: true}, keep, true)
	people["nobody"] = struct {
		desk *desk.Desk
		most need
		any  bool
	}{b.As(access.Person{}), anybody, false}

	cases := useCases(b, picture, b.Ready("juniors-doomed", 2))
	for name := range acts() {
		_, known := cases[name]
		assert.True(t, known || slices.Contains(notUseCases, name) || slices.Contains(askedBefore, name), "%s is in no line of the matrix", name)
	}
	for name, c := range cases {
		for who, p := range people {
			may := p.most >= c.need
			switch c.need {
			case measure:
				may = p.any
			case publishesSomewhere:
				may = p.most >= publishes || who == "elsewhere"
			}
			err := c.try(p.desk)
			var r *access.Refusal
			refused := false
			if e, ok := desktest.AsRefusal(err); ok {
				r = e
				refused = r.Kind == access.Forbidden || r.Kind == access.SignIn
			}
			assert.Equal(t, !may, refused, "%s as %s: %v", name, who, err)
			if refused {
				assert.NotEmpty(t, r.Next)
				assert.Equal(t, who == "nobody", r.Kind == access.SignIn, "%s as %s", name, who)
			}
		}
	}
}

// acts are the methods of all rooms, as Room.Method, with where they are.
func acts() map[string]bool {
	all := map[string]bool{}
	seat := reflect.TypeFor[*access.Seat]()
	for i := range reflect.TypeFor[desk.Desk]().NumField() {
		room := reflect.TypeFor[desk.Desk]().Field(i)
		if !room.IsExported() || room.Anonymous {
			continue
		}
		for m := range room.Type.Methods() {
			if _, ofSeat := seat.MethodByName(m.Name); !ofSeat && m.Name != "At" {
				all[room.Name+"."+m.Name] = true
			}
		}
	}
	return all
}

// askedBefore are for other rooms, which have asked already who it is and what they may.
var askedBefore = []string{
	"Cuts.Beside", "Cuts.CutKey", "Cuts.CutsOf", "Cuts.CutsForAll", "Cuts.CutsOfStill", "Cuts.LighterReady", "Cuts.CutsUnder", "Cuts.Figures", "Cuts.FiguresFor", "Cuts.ForgetCuts",
	"Derive.Animation", "Derive.Boxed", "Derive.BoxedFile", "Derive.BoxedWhole", "Derive.Decode", "Derive.Decoded", "Derive.ForgetDecoded", "Derive.KeepDecoded", "Derive.Limits", "Derive.LinesOf", "Derive.LookOf", "Derive.MakePreview", "Derive.Open", "Derive.Source", "Derive.SourceFor", "Derive.StandsIn", "Derive.Still", "Derive.Stills", "Derive.UnlessGone", "Derive.WithLook", "Derive.WorkingCopy",
	"Jobs.Start", "Cuts.Later",
	"Lists.Elsewhere", "Lists.Gone", "Lists.KnownBy", "Lists.Moved", "Lists.Regrouped", "Lists.Stale", "Lists.Uncovered", "Lists.View", "Lists.Went",
	"Measure.ForgetMeasured",
	"Mirror.Walk", "Mirror.Archive",
	"Former.Remember", "Former.Mending",
	"Deleted.Drop", "Pages.Add", "Pages.FreeAddress", "Pages.Edit", "Pages.MayWorkOn", "Pages.OnDraft", "Pages.OwnPage",
	"Pictures.Change", "Pictures.ChangeIn", "Pictures.Clues", "Pictures.FacesNow", "Pictures.Free", "Pictures.Item", "Pictures.Items", "Pictures.KeepStep", "Pictures.NearTwins", "Pictures.OwnSections", "Pictures.Receive", "Pictures.Refused", "Pictures.SinceThen", "Pictures.Stirring", "Pictures.TakeIn", "Pictures.TakeNames", "Pictures.Work",
	"Publish.AheadDone", "Publish.Alone", "Publish.Files", "Publish.KeepLiveAs", "Visits.LookAt", "Publish.Style", "Publish.Writing",
	"Shelves.ToBin", "Shelves.ToBinBecause",
	"Snapshot.Backing", "Snapshot.Behind", "Snapshot.Contrasts", "Snapshot.CardLook", "Snapshot.ChangedSince", "Snapshot.Changes", "Snapshot.CoverFiles", "Snapshot.LinkFile", "Snapshot.LinkPicture", "Snapshot.CutImage", "Snapshot.CutsFor", "Snapshot.Findings", "Snapshot.Followable", "Snapshot.Settle", "Snapshot.Sign", "Snapshot.Snap", "Snapshot.Snapshots",
}

// What does not ask who it is stays among the rooms: nothing outside calls it.
func TestOnlyRoomsCallWhatDoesNotAsk(t *testing.T) {
	t.Parallel()
	var outside []string
	for _, folder := range []string{"../web", "../cmd/mivlet", "../demo", "../practice"} {
		files, err := filepath.Glob(folder + "/*.go")
		require.NoError(t, err)
		for _, file := range files {
			if !strings.HasSuffix(file, "_test.go") {
				outside = append(outside, file)
			}
		}
	}
	require.Greater(t, len(outside), 30)
	for _, file := range outside {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, act := range askedBefore {
			assert.NotRegexp(t, `\.`+regexp.QuoteMeta(act)+`\b`, string(text), "%s calls %s", file, act)
		}
	}
}
