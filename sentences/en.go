package sentences

import "mivlet/core/audit"

var english = language{
	remarks:  englishRemarks,
	problems: englishProblems,
	findings: map[audit.Code]string{
		audit.NoCredit:       "Add a credit: who made it? (house rules)",
		audit.RefusedFace:    "One person in this picture refused permission. Under “Who is seen”, choose which face is theirs, or which veil covers them. (house rules)|%[1]d people in this picture refused permission. Under “Who is seen”, choose which faces are theirs, or which veils cover them. (house rules)",
		audit.Refused:        "One person in this picture refused permission, and no veil covers them. Choose the veil that does, draw one, or use another picture. (house rules)|%[1]d people in this picture refused permission, and no veil covers them. Choose the veils that do, draw some, or use another picture. (house rules)",
		audit.Ended:          "The permission of one person in this picture has ended. Ask again, choose the veil that covers them, or use another picture. (house rules)|The permission of %[1]d people in this picture has ended. Ask again, choose the veils that cover them, or use another picture. (house rules)",
		audit.Unasked:        "One person in this picture has not been asked for permission yet. (house rules)|%[1]d people in this picture have not been asked for permission yet. (house rules)",
		audit.OpenFace:       "One face can be seen, and nobody was asked. Cover it, allow it, or note who it is. (house rules)|%[1]d faces can be seen, and nobody was asked. Cover them, allow them, or note who they are. (house rules)",
		audit.NobodyNoted:    "Note who can be seen, or that nobody can be recognised. (house rules)",
		audit.NoSlot:         "Choose where the picture will go. Everything else follows from that.",
		audit.Soft:           "Soft on every screen: %[1]d pixels for %[2]d. Widen the frame, or choose a smaller slot.",
		audit.LittleSoft:     "A little soft on sharp screens: %.1[1]f pixels where 2 would be crisp.",
		audit.FirstFrameOnly: "This is an animation of %[1]d frames. The result shows only the first one.",
		audit.StandsStill:    "This slot does not play animations. Choose another slot, or the frame to show.",
		audit.PersonInName:   "“%[1]s” in the name is about a person, and everyone can read addresses. (common practice)",

		audit.SampleText:    "This is still the sample text: “%[1]s”",
		audit.EmptyHeading:  "This heading is empty.",
		audit.SkippedLevel:  "This heading skips a level: it goes from level %[1]v to level %[2]v.",
		audit.NoSuchAddress: "“%[1]s” is not an address, so the link leads nowhere.",
		audit.MovedLink:     "%[1]s has moved to %[2]s.",
		audit.BrokenLink:    "The link to %[1]s is broken: nothing is live there.",
		audit.BareFile:      "%[1]s leads to a bare picture file, away from the page.",
		audit.EmptyPlace:    "This place still needs a picture.",
		audit.SlotGone:      "The house no longer has a slot %[1]q.",
		audit.SampleCaption: "The caption is still the sample text. Write your own, or leave it out.",
		audit.TooWide:       "%[1]s is %[2]d px wide, too wide for this column. It is shown at %[3]d.",
		audit.TooHeavy:      "Too heavy: %[1]s. This place allows %[2]s.",
	},
	fixes: map[audit.Mending]string{
		audit.DropPlace:    "Remove the place",
		audit.DropBlock:    "Remove the block",
		audit.ClearCaption: "Leave the caption out",
		audit.SetWidth:     "Show it %[1]s px wide",
		audit.SetSlot:      "Use %[1]s",
		audit.SetLevel:     "Make it level %[1]s",
		audit.DropLink:     "Remove the link",
		audit.Relink:       "Use its new address",
	},
}
