package sentences

import (
	"mivlet/core/private"
	"mivlet/core/survey"
)

// What is wrong with a site that was made elsewhere, and the way out.
var englishSurvey = map[survey.Code]remark{
	survey.Position:      {"The file tells where it was taken.", "Cut it anew: no position goes along."},
	survey.People:        {"The file names who is seen: %[1]s.", "Cut it anew: no names go along."},
	survey.Serial:        {"The file tells the number of a camera, or who owns it.", "Cut it anew: no numbers go along."},
	survey.BrokenPicture: {"The picture %[1]s is not there.", "Bring it back, or take it off the page."},
	survey.BrokenLink:    {"The link %[1]s leads to nothing.", "Let it lead to what is there, or remove it."},
	survey.Damaged:       {"This picture cannot be shown: %[1]s.", "Bring in another copy."},
	survey.NoAlt:         {"It has no alt text, so a screen reader reads out its file name. (WCAG F65)", "Say in a few words what it shows, or mark it as decoration."},
	survey.FarTooLarge:   {"It is %[1]d px wide, and %[2]d px are enough where it is shown widest.", "Cut it to the width that is needed."},
	survey.Enlarged:      {"It is %[1]d px wide, and is stretched to %[2]d px.", "Bring in a larger original, or show it smaller."},
	survey.PhotoAsPNG:    {"It is a photo kept as PNG, which takes several times the bytes of JPEG.", "Cut it as JPEG."},
	survey.Uncompressed:  {"It is a bitmap (BMP), which takes many times the bytes of other files.", "Cut it as JPEG or PNG."},
	survey.WrongEnding:   {"Its name ends in %[1]s, and it is what others end in %[2]s.", "Give it its own ending."},
	survey.SameContent:   {"It is the same file as %[1]s.", "Keep one of them."},
	survey.SameLook:      {"It shows the same as %[1]s.", "Keep the larger one, and cut it for each place."},
	survey.Faces:         {"Faces can be seen in it: %[1]d. Nobody has noted that these people agreed.", "Ask them, cover their faces, or take the picture off its pages."},
	survey.Readable:      {"%[1]s can be read in it.", "Cover it, or take the picture off its pages."},
	survey.WeakVeil:      {"Parts of it are covered by a mosaic: %[1]d. What lies below can be worked out.", "Cover them anew with a plain colour, from the original."},
	survey.SoftVeil:      {"Words in it are blurred, in this many places: %[1]d. They can be worked out.", "Cover them anew with a plain colour, from the original."},
	survey.StillCopy:     {"It shows what %[1]s shows, and stands still.", "Show the one that moves, if it is meant to move."},
	survey.Unused:        {"No page shows it or leads to it.", "Take it off the server, if nobody links to it from outside."},
	survey.CameraName:    {"Its name comes from a camera and says nothing.", "Name it after what it shows."},
	survey.AwkwardName:   {"Its name has spaces or signs that addresses cannot hold as they are.", "Use letters, digits and hyphens."},
	survey.NotSized:      {"The page says no width and height, so what follows moves when the picture comes.", "Say both."},
	survey.LayoutShift:   {"The text moves while pictures load, by %[1]s in a window of %[2]d px. (Layout shift: up to 0.1 is good.)", "Say the width and height of each picture."},
	survey.UnreadPage:    {"The page cannot be read.", "Look at it in a browser."},
}

// What findings of one kind are called together.
var englishKinds = map[survey.Code]string{
	survey.Position:        "Files that tell where they were taken",
	survey.People:          "Files that name who is seen",
	survey.Serial:          "Files that tell a camera or its owner",
	survey.BrokenPicture:   "Pictures that are not there",
	survey.BrokenLink:      "Links that lead to nothing",
	survey.Damaged:         "Files that cannot be shown",
	survey.NoAlt:           "Pictures with no alt text",
	survey.FarTooLarge:     "Pictures far larger than they are shown",
	survey.Enlarged:        "Pictures stretched beyond their pixels",
	survey.PhotoAsPNG:      "Photos kept as PNG",
	survey.Uncompressed:    "Bitmaps (BMP)",
	survey.WrongEnding:     "Files with another ending than their content",
	survey.SameContent:     "The same file under several names",
	survey.SameLook:        "The same picture in several sizes",
	survey.Faces:           "Faces that can be seen",
	survey.Readable:        "Private details that can be read",
	survey.WeakVeil:        "Weak covers: mosaics",
	survey.SoftVeil:        "Weak covers: blurred words",
	survey.StillCopy:       "Still copies of what moves",
	survey.Unused:          "Files that no page uses",
	survey.CameraName:      "Names that a camera gave",
	survey.AwkwardName:     "Names with spaces or signs",
	survey.NotSized:        "Pictures without width and height",
	survey.LayoutShift:     "Pages that move while their pictures load",
	survey.UnreadPage:      "Pages that cannot be read",
	"alt-missing":          "Pictures with no description",
	"alt-missing-link":     "Links that say nothing",
	"alt-decorative-link":  "Links that say nothing",
	"alt-placeholder":      "Descriptions that fit any picture",
	"alt-file-name":        "File names instead of descriptions",
	"alt-decorative-words": "Decoration with words",
	"alt-long":             "Long descriptions",
	"alt-same-as-caption":  "Descriptions that repeat the caption",
	"alt-same-as-other":    "Descriptions that another picture has",
	"alt-image-of":         "Descriptions that begin with “image of”",
	"alt-shouting":         "Descriptions in capitals",
	"alt-email":            "E-mail addresses in descriptions",
	"alt-phone":            "Phone numbers in descriptions",
	"alt-plate":            "Number plates in descriptions",
	"alt-street":           "Addresses in descriptions",
	"alt-name":             "Names in descriptions",
}

// What can be read in a picture and tells of people.
var englishTells = map[private.Kind]string{
	private.Phone: "a phone number", private.Email: "an e-mail address", private.Plate: "a number plate", private.Street: "an address",
	private.Name: "a name", private.Watched: "a word that the house watches for",
}
