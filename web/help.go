package web

import (
	"fmt"
	"net/http"
)

// help tells in plain words what a screen is for and what one does there, in the order of doing
// it. The list of keys of a screen shows it, /help has all of it, and the README is made of it.
type help struct {
	Screen  string // as in keysOf
	Title   string
	Does    string   // one sentence
	Steps   []string // each is one act
	Drawing string   // the drawing that it has, see templates/help.html
}

// walkHelp is the walk of a picture, from arrival to live page.
var walkHelp = []help{
	{"arrivals", "Arrivals", "Pictures come in here, and wait until you say where they go.", []string{
		"Drop photos or a whole folder on the dark strip. You can also paste a screenshot, take a photo with the phone, or read a camera card.",
		"Each picture shows at once what it is, what is hidden inside it, and whether it is here already.",
		"Tick the pictures that belong together.",
		"Choose the slot they are for and the section they belong to.",
		"Press *To the bench*. The original stays as it is, always.",
	}, "arrivals"},
	{"bench", "Bench", "Here a picture is made ready: cut to size, covered where it must be, named and described.", []string{
		"Draw a frame around the part that matters, pull its edges, or type its numbers. You can turn, mirror, straighten and trim, too.",
		"Draw a veil over what is private, or let Mivlet find faces and lines of text. A veil takes no hidden pixel along.",
		"Note who can be seen and whether they agreed. A refusal that no veil covers keeps the picture from going live.",
		"Give it a name that others will find again, and describe it for those who cannot see it.",
		"The chain below tells the pixels, the bytes and the time on a slow line, while your hand moves.",
		"Every step is kept and can be undone. Enter leads to the next picture that is not ready.",
	}, "bench"},
	{"pages", "Pages", "All pages of the house, by section, with what is missing on each.", []string{
		"Begin a page with *New page*, and choose how it is arranged.",
		"Search by title, summary or tag, or filter by section, state and findings.",
		"A card tells whether a page is live, changed since, or has something to fix. Open it to work on it.",
		"Delete a page under *This page*, when it is not live. The list at the foot brings it back.",
	}, "page"},
	{"page", "Page", "Here pictures and words stand as visitors will see them.", []string{
		"Point at a gap between two blocks and pick a picture from the tray, or drop a file into the gap.",
		"Click on words to write. A gap takes a text, a heading, a list, an album or a band of columns, too.",
		"Each picture has a width, a side, space and a link of its own. No file is larger than it is shown.",
		"The sign-off at the side tells what falls short. Each line leads to its place, and many have a button that fixes it.",
		"See what visitors will see differently, then publish. What goes live is what you were shown.",
		"Several people can work on one page. Where two wrote in the same block, both texts are shown.",
	}, "page"},
	{"live", "Live", "What visitors see now, fetched and checked as a visitor would.", []string{
		"Each page tells what was checked: its pictures, their descriptions, their bytes, and that nothing is hidden inside.",
		"*Look again* fetches a page anew.",
		"Pages that changed since are published again, one by one or together.",
		"An earlier version is put back from the page itself.",
	}, "live"},
}

// besideHelp are the screens that stand beside the walk.
var besideHelp = []help{
	{"widths", "Three widths", "The draft of a page on a desktop, a tablet and a phone, beside each other.", []string{
		"Scroll one of them; the others follow.",
		"The table tells what each picture weighs on each of them.",
	}, "widths"},
	{"findings", "Findings", "What is wrong with what visitors get, and how the site fares.", []string{
		"The site is looked through every day by itself, and other places that it is sent to every week.",
		"Follow a finding to its page, and mend it there. The next round no longer finds it.",
		"*Leave it as it is* takes it off the list for good. *What stays as it is* brings it back.",
		"The drawings tell how heavy pages are, what is undescribed, and which pictures tell where they were taken.",
	}, "live"},
	{"covers", "Covers", "What visitors meet of a page before they open it, blanks first.", []string{
		"Tick pictures beside the list, and fill the blanks with them.",
		"Open a cover to frame it and to set its focal point.",
	}, "covers"},
	{"shared", "Shared link", "How the link of a page looks where somebody shares it.", []string{
		"Choose a picture for the link, or a card with the title.",
		"*Fetch again* tells what a previewer shows now, and what it still has from before.",
	}, "covers"},
	{"shelves", "Shelves", "Every picture of the house is found again here.", []string{
		"Go by section and folder, search by words, or ask for pictures without a description, never placed, or with a permission that ends soon.",
		"Tick pictures to rename them, move them or gather them in an album. You see the plan first.",
		"Open a picture to see where it stands, and to change its words everywhere.",
	}, "shelves"},
	{"files", "Files", "Documents, tables and recordings that visitors can download.", []string{
		"Bring one in at Arrivals, or in a gap of a page.",
		"Give it a title and a name. Offer it on any page of its section.",
	}, "shelves"},
	{"albums", "Albums", "Pictures in an order, with captions of their own.", []string{
		"Begin an album with a title, or gather ticked pictures of the shelves.",
		"A page shows an album as a grid or in rows. Each picture opens over the page.",
	}, "albums"},
	{"album", "Album", "The pictures of one album, in their order.", []string{
		"Drag a picture to its place, or move it with Alt and an arrow key.",
		"Write the captions one after the other, and describe what has no description yet.",
		"To take a picture out does not throw it away.",
	}, "albums"},
	{"banners", "Banners", "Dated notices in the spots of the site, on a calendar of weeks.", []string{
		"Begin a banner in its week, and drag its ends to its first and last day.",
		"A publisher approves what was seen. Visitors get it without cookies and scripts.",
	}, "banners"},
	{"banner", "Banner", "One banner: its picture at both sizes, its days, and where it leads.", []string{
		"Drop a picture, or choose one from the shelves.",
		"Ask why it does not show on a page. Each unmet condition has the step that fixes it.",
	}, "banners"},
	{"ruler", "Ruler", "Measure a column on a screenshot of any page.", []string{
		"Paste or drop a screenshot.",
		"Pull the two edges to the sides of the column. They snap to lines. *Find columns* proposes what it sees.",
		"Keep the reading, and make a slot from it. In a new house it becomes the width of the column.",
	}, "ruler"},
	{"rules", "House rules", "One document that everything else obeys: page frame, slots, types, names, words and sections.", []string{
		"Change any number. A draft keeps your changes until you apply them.",
		"Before it holds, you see which pictures are cut anew and which become soft.",
		"Every version is kept with who, when and why. The document travels as JSON.",
	}, "rules"},
	{"people", "People", "Who may do what in which section.", []string{
		"Contributors work on pictures and drafts. Publishers also publish. Keepers keep the rules and the people.",
		"Add a person, or change a role. It holds at once.",
		"*Accounts from elsewhere* lets people sign in with those of your school. What their groups may do follows from there.",
	}, "people"},
	{"destinations", "Destinations", "Where live pages are sent, besides the built-in site.", []string{
		"Add the place that another web server serves: a folder, a machine over SSH or WebDAV, or object storage.",
		"You see what would be sent before anything is.",
		"From then on, whatever goes live is sent: pictures first, pages last, and only what changed.",
		"What somebody else changed there is not overwritten unasked. Tick it, and decide.",
	}, "live"},
	{"leaving", "Leaving soon", "Pictures that are thrown away soon, as nothing uses them.", []string{
		"A house rule says for how long a section keeps pictures that stand nowhere. Two weeks before, they are listed here.",
		"Tick those that you want to keep. What was thrown away lies in the bin for a while.",
	}, "shelves"},
	{"former", "Former sites", "Sites that were made elsewhere, looked through and mended.", []string{
		"A keeper brings a site in, as an archive or a folder, or has it fetched from its address. You see what is wrong, and what it costs visitors.",
		"Describe its pictures one after the other, and name them. The same picture elsewhere is described along with it.",
		"*Look into them* finds faces and private details in its pictures. Cover those on the bench, or note that they may be shown.",
		"Mend it, and look at pages before and after. Pictures become light and tell nothing of people; pages look as before.",
		"Take the mended site away as an archive, or send it to its server. No address stops working. Whatever you decided can be taken back.",
	}, "shelves"},
	{"former-carry", "Carry pages over", "Pages of a former site become drafts of a section.", []string{
		"Choose the section, and tick pages. Their headings, words, tables, columns and pictures come over, each picture with its description and caption.",
		"Look through the draft, and publish it as any other. A picture that stands on several pages comes once.",
		"Links between pages that came over lead to each other. Others lead to where the old site is reached.",
	}, "shelves"},
	{"former-describe", "Describe a former site", "One picture after the other, with the words it stands among.", []string{
		"Say what matters in the picture on that page. *Decoration* has readers pass it over.",
		"What the same picture says elsewhere is offered. Skipped pictures come again.",
	}, "shelves"},
	{"former-compare", "Before and after", "A page of a former site and the mended one, side by side.", []string{
		"Choose a page and a window. Both scroll together.",
		"It is told whether everything stands where it stood. What does not is outlined.",
		"*Compare all pages* looks at every changed page in three windows, pixel by pixel, without the pictures. A keeper starts it.",
	}, "shelves"},
	{"houses", "Houses", "All houses of a district, for the keepers of its office.", []string{
		"You see how large each house is, what is live, and what is to be looked at. What needs you comes first.",
		"Add a house by the name that browsers ask for. Pass the link on to its first keeper.",
		"Open one to say how much it may have. *Rules of all houses* makes parts of the rules the same everywhere.",
		"What lies in a house stays between its own people: you need an account there to see it.",
	}, "people"},
	{"running", "How it runs", "The disk, the backups and what takes long, for keepers.", []string{
		"What should be done comes first.",
		"Backups are written by themselves where whoever runs the program says so. Once a week the newest is tried.",
	}, "people"},
	{"privacy", "What is kept of people", "What the house keeps of people, where, for how long, and who sees it.", []string{
		"When somebody asks what is kept of them, look them up by name. Give them the JSON file.",
		"The record tells it of all people at once. Print it, or show it to whoever is responsible for privacy.",
	}, "people"},
	{"trail", "Trail", "What was done in the house, by whom and when.", []string{
		"Filter by person or section, or download it as a table.",
	}, "people"},
	{"account", "Your account", "Your password, your second step, your passkeys and where you are signed in.", []string{
		"Change your password, or end a session that you left open elsewhere.",
		"With a second step, you are asked for a code of your phone after the password. Keep the spare codes.",
		"With a passkey, your device signs you in by finger, face or PIN. It needs Mivlet under a name, not a number.",
	}, "people"},
	{"welcome", "The first answers", "What Mivlet needs to know of a new house.", []string{
		"Answer what you know, and leave the rest as it is. All of it can be changed under *House rules*.",
		"*Try it on a sample page* brings a page and three pictures in. *Remove the samples* takes them away together.",
	}, "rules"},
}

// helpFor is the help of a screen.
func helpFor(screen string) (help, error) {
	for _, list := range [][]help{walkHelp, besideHelp} {
		for _, h := range list {
			if h.Screen == screen {
				return h, nil
			}
		}
	}
	return help{}, fmt.Errorf("no help for the screen %q", screen)
}

// showHelp is the page with all of it.
func (s *server) showHelp(w http.ResponseWriter, r *http.Request) {
	type part struct {
		Title   string
		Screens []help
	}
	s.screen(w, r, "help", "Help", "", []part{{"The walk", walkHelp}, {"Beside the walk", besideHelp}})
}
