package house_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// What a dry run tells is what then happens: as many cuts are made anew, and
// the pictures it names become soft.
func TestADryRunTellsWhatThenHappens(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	first, second := b.Ready("juniors-one", 1), b.Ready("juniors-two", 2) // 1600 px wide
	b.Place(first)
	_, err := b.Pages.Insert(b.PageID, page.Behind("a"), page.Placement{Picture: second, Slot: "side"})
	require.NoError(t, err)
	for _, id := range []uint{first, second} {
		for _, slot := range []string{"column", "side"} {
			_, err = b.Cuts.MakeCuts(id, slot)
			require.NoError(t, err)
		}
	}
	require.NoError(t, b.House.ChangeRules(desktest.Setting("/page/patterns/text/cap", "1230"))) // a column of 960, as wide as the page
	told, err := b.House.DryRun()
	require.NoError(t, err)
	require.Len(t, told, 1, "only the full column changes: %v", told)
	assert.Contains(t, told[0].What, "Slot Full column, width: 640 → 960")
	assert.Equal(t, 4, told[0].Cuts, "360, 738, 960 and 1476 px; all 1600 of it are hardly more")
	assert.Equal(t, []string{"Autumn"}, told[0].Pages)
	assert.Empty(t, told[0].Soft, "1600 pixels for 960: 1.67 to each")

	require.NoError(t, b.House.ChangeRules(desktest.Setting("/page/cap", "1230")))
	told, err = b.House.DryRun()
	require.NoError(t, err)
	assert.Equal(t, []string{"juniors-one"}, told[0].Soft, "1600 pixels for 1200: 1.33 to each")

	slot, _ := b.Rules().Slot("column")
	assert.Equal(t, 640, slot.Width, "nothing holds before it is applied")
	_, err = b.House.ApplyRules("  ")
	desktest.Refusal(t, err, access.Bad, "Say why")
	cuts, pages := 0, 0
	for _, t := range told {
		cuts += t.Cuts
		pages += len(t.Pages)
	}
	job, err := b.House.ApplyRules("wider pages")
	require.NoError(t, err)
	job.Wait()
	p := job.Progress()
	assert.True(t, p.Ended)
	assert.Equal(t, cuts, p.All, "as many cuts as were told")
	assert.Equal(t, p.All, p.Done)
	assert.Empty(t, p.Failed)
	slot, _ = b.Rules().Slot("column")
	assert.Equal(t, 1200, slot.Width)
	made, err := b.Cuts.MakeCuts(first, "column")
	require.NoError(t, err)
	assert.Equal(t, []int{360, 738, 1200, 1476}, []int{made[0].Width, made[1].Width, made[2].Width, made[3].Width})

	versions, err := b.House.RulesVersions()
	require.NoError(t, err)
	assert.Equal(t, "wider pages", versions[0].Why)
	changes, err := b.House.CompareRules(versions[1].ID, versions[0].ID)
	require.NoError(t, err)
	assert.Len(t, changes, 2)
	require.NoError(t, b.House.BringBackRules(versions[1].ID))
	draft, err := b.House.RulesDraft()
	require.NoError(t, err)
	assert.Len(t, draft.Changes, 2, "the earlier version is the draft, and holds when it is applied")
}

func TestWhatIsInUseCannotBeTakenOut(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Place(b.Ready("juniors-one", 1))
	require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Remove("/slots/column") }))
	_, err := b.House.ApplyRules("tidy up")
	desktest.Refusal(t, err, access.Clash, "still used by Autumn")
	require.NoError(t, b.House.DropRulesDraft())
	require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Remove("/sections/juniors") }))
	_, err = b.House.ApplyRules("tidy up")
	desktest.Refusal(t, err, access.Clash, "Section Juniors")
	require.NoError(t, b.House.DropRulesDraft())
	require.NoError(t, b.House.ChangeRules(desktest.Setting("/page/breaks/tablet", "3000")))
	_, err = b.House.ApplyRules("why not")
	desktest.Refusal(t, err, access.Bad, "before desktops")
}

func TestABadFileOfRulesChangesNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	desktest.Refusal(t, b.House.ImportRules([]byte(`{"version": 1, "house": 7}`)), access.Bad, "/house")
	desktest.Refusal(t, b.House.ImportRules([]byte(`{"version": 1,,}`)), access.Bad, "Line 1")
	draft, err := b.House.RulesDraft()
	require.NoError(t, err)
	assert.Empty(t, draft.Changes)

	school := rules.ReadyMade()[1].Rules
	require.NoError(t, b.House.ImportRules(school.Encode()))
	draft, err = b.House.RulesDraft()
	require.NoError(t, err)
	assert.Equal(t, school.Slots, draft.Rules.Slots)
}

// Visitors see something else when the rules change, too: the page says so.
func TestRulesThatChangeAskForPublishingAgain(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Place(b.Ready("juniors-one", 1))
	_, err := b.Publish.Publish(t.Context(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.False(t, b.PageView().Differs)
	require.NoError(t, b.House.ChangeRules(desktest.Setting("/slots/column/budget", "100000")))
	job, err := b.House.ApplyRules("lighter pages")
	require.NoError(t, err)
	job.Wait()
	assert.True(t, b.PageView().Differs)
}

// A file of rules with several faults is told all of them, a dozen one by one.
func TestAllThatIsWrongWithAFileIsTold(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	doc := string(b.Rules().Encode())
	bad := strings.Replace(strings.Replace(doc, `"cap": 990`, `"cap": "wide"`, 1), `"budget": 40000`, `"budget": 10`, 1)
	var refusal *access.Refusal
	require.ErrorAs(t, b.House.ImportRules([]byte(bad)), &refusal)
	assert.Equal(t, "2 places in these rules cannot be as they are.", refusal.What)
	require.Len(t, refusal.Each, 2)
	assert.Equal(t, `/page/cap: "wide" will not do here. Use a whole number, from 320 to 4000.`, refusal.Each[0])
	assert.Contains(t, refusal.Each[1], "/budget: 10 will not do here. Use a whole number, at least 1000.")

	require.ErrorAs(t, b.House.ImportRules([]byte(`{"version": 2, "a": 1}`)), &refusal)
	desktest.Refusal(t, b.House.ImportRules([]byte(strings.Replace(doc, `"cap": 990`, `"cap": 9`, 1))), access.Bad, "/page/cap: 9 will not do here. Use a whole number, from 320 to 4000. Nothing was changed.")
	require.ErrorAs(t, b.House.ImportRules([]byte(strings.ReplaceAll(doc, `"title": "`, `"name": "`))), &refusal)
	assert.Len(t, refusal.Each, 13)
	assert.Regexp(t, `^And \d+ more\.$`, refusal.Each[12])
}
