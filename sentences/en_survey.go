package sentences

import "mivlet/core/survey"

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
	survey.WrongEnding:   {"Its name ends in %[1]s, and it is what others end in %[2]s.", "Give it its own ending."},
	survey.SameContent:   {"It is the same file as %[1]s.", "Keep one of them."},
	survey.SameLook:      {"It shows the same as %[1]s.", "Keep the larger one, and cut it for each place."},
	survey.Unused:        {"No page shows it or leads to it.", "Take it off the server, if nobody links to it from outside."},
	survey.CameraName:    {"Its name comes from a camera and says nothing.", "Name it after what it shows."},
	survey.AwkwardName:   {"Its name has spaces or signs that addresses cannot hold as they are.", "Use letters, digits and hyphens."},
	survey.NotSized:      {"The page says no width and height, so what follows moves when the picture comes.", "Say both."},
	survey.UnreadPage:    {"The page cannot be read.", "Look at it in a browser."},
}
