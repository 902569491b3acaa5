package sentences

import (
	"mivlet/core/naming"
	"mivlet/core/words"
)

// Remarks about words: what falls short, and how it could be said.
var englishRemarks = map[words.Code]remark{
	words.MissingLink:      {"It is a link, and its description does not say where to. (WCAG F89, H30)", "Say where the link goes: “All dates of the autumn”."},
	words.Missing:          {"Say in a few words what it shows, for those who cannot see it. (WCAG F65)", "“Three juniors paddle off the jetty”"},
	words.Placeholder:      {"That word fits any picture. Say what this one shows. (WCAG F30)", "“Three juniors paddle off the jetty”"},
	words.FileName:         {"That is a file name, which says nothing when read aloud. Say what the picture shows. (WCAG F30)", "“Three juniors paddle off the jetty”"},
	words.DecorativeWords:  {"It is decorative, so its description is not read. Remove one or the other. (WCAG F39)", ""},
	words.DecorativeLink:   {"It is a link, so it cannot be decorative. (WCAG F89)", "Say where the link goes."},
	words.DecorativeReason: {"Say why it needs no description, for your successors. (common practice)", "“a line between two parts”"},
	words.Long:             {"This is long to listen to. Keep the main point here, and put the rest into the caption or the long description. (common practice)", ""},
	words.CaptionLong:      {"The caption is too long. (house rules)", ""},
	words.SameAsCaption:    {"The caption says the same, so a listener hears it twice. (common practice)", "Say in the alt text what the caption does not: what can be seen."},
	words.SameAsText:       {"The text beside it says the same, so a listener hears it twice. (common practice)", ""},
	words.SameAsOther:      {"Another picture on this page has the same description, but shows something else. (common practice)", "Say what tells them apart."},
	words.ImageOf:          {"A screen reader already says that it is an image. Begin with what it shows. (common practice)", "“%[1]s”"},
	words.Link:             {"It leads to “%[1]s”, and its words do not say so. (WCAG F89, H30)", "“%[2]s: %[1]s”"},
	words.Shouting:         {"Some screen readers spell out words in capitals. (common practice)", "“%[1]s”"},
	words.Email:            {"Everyone can find an e-mail address in the description, also machines. (common practice)", ""},
	words.Phone:            {"A phone number in the words is found by everybody, also by machines. (common practice)", ""},
	words.Plate:            {"That looks like a number plate. It reveals whose vehicle it is. (common practice)", "“a white van”"},
	words.Street:           {"That looks like an address. It reveals where somebody lives. (common practice)", ""},
	words.Name:             {"That is somebody's name. Leave it out unless they agreed. (common practice)", ""},
	words.Watched:          {"The house watches for “%[1]s”. Leave it out unless everybody may read it. (house rules)", ""},
	words.HiddenName:       {"A veil hides “%[1]s” in the picture, and the words tell it. (common practice)", "Say what happens without the name."},
}

// Problems of names.
var englishProblems = map[naming.Code]string{
	naming.Empty:            "A picture needs a name, so that someone finds it in two years.",
	naming.ReservedName:     "“%[1]s” is a name that some systems refuse.",
	naming.TooLong:          "%[1]d characters; %[2]d is the most.",
	naming.Symbol:           "%[1]s: only letters a–z, digits and “%[2]s” travel well.",
	naming.Hyphens:          "“%[1]s” stands single, and only between words.",
	naming.NeedsDate:        "A date belongs into the name, written like %[1]s.",
	naming.NeedsNumber:      "A number of %[1]d digits belongs into the name.",
	naming.CameraName:       "“%[1]s” is what a camera called it. Say what the picture shows.",
	naming.NeedsSubject:     "A name needs more than the section. Say what the picture shows.",
	naming.IdleWords:        "These words fit any picture. Say what this one shows.",
	naming.Space:            "Spaces break addresses. Hyphens separate the words.",
	naming.SpaceUnderscores: "Spaces break addresses. Underscores separate the words.",
	naming.SpaceCapitals:    "Spaces break addresses. Capitals separate the words.",
	naming.SmallLetters:     "Use lower case: some systems treat capitals as other letters.",
	naming.Capitalised:      "Each word begins with a capital: “%[1]s”.",
	naming.NeedsSection:     "The section comes first: “%[1]s…”.",
	naming.TakenName:        "Another picture of this section has that name already.",
	naming.OtherSection:     "“%[1]s” is another section. Here it is “%[2]s…”.",
}
