// Package desk puts the rooms of the house together. Each room is a package below it, and
// does one part of the work in whole transactions: what it refuses, it refuses with its
// reason. Rooms ask the core what is right and the store to keep it, and know only the
// rooms below them:
//
//	rounds, carryover → former, privacy → running → house, withdraw, lighter, destinations → takealong, mirror, measure, publish, covers, backgrounds, previews, albums, banners, landing → attachments → pages → snapshot, retention → shelves, bench → lists, visit, pictures → cuts → derive → jobs, passkeys → people → access → presence
package desk

import (
	"cmp"
	"context"
	"io/fs"
	"time"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/albums"
	"mivlet/desk/attachments"
	"mivlet/desk/backgrounds"
	"mivlet/desk/banners"
	"mivlet/desk/bench"
	"mivlet/desk/bringin"
	"mivlet/desk/carryover"
	"mivlet/desk/covers"
	"mivlet/desk/cuts"
	"mivlet/desk/deleted"
	"mivlet/desk/derive"
	"mivlet/desk/destinations"
	"mivlet/desk/district"
	"mivlet/desk/former"
	"mivlet/desk/house"
	"mivlet/desk/intake"
	"mivlet/desk/jobs"
	"mivlet/desk/landing"
	"mivlet/desk/lighter"
	"mivlet/desk/lists"
	"mivlet/desk/measure"
	"mivlet/desk/mirror"
	"mivlet/desk/pages"
	"mivlet/desk/passkeys"
	"mivlet/desk/people"
	"mivlet/desk/pictures"
	"mivlet/desk/previews"
	"mivlet/desk/privacy"
	"mivlet/desk/provider"
	"mivlet/desk/publish"
	"mivlet/desk/retention"
	"mivlet/desk/rounds"
	"mivlet/desk/running"
	"mivlet/desk/samples"
	"mivlet/desk/shelves"
	"mivlet/desk/snapshot"
	"mivlet/desk/takealong"
	"mivlet/desk/visit"
	"mivlet/desk/withdraw"
	"mivlet/store"
)

// Desk is where one person does the work, in every room; [Desk.As] gives another person's.
// It is safe for concurrent use.
type Desk struct {
	*access.Seat
	People       *people.Desk
	Passkeys     *passkeys.Desk
	Provider     *provider.Desk
	Jobs         *jobs.Desk
	Derive       *derive.Desk
	Cuts         *cuts.Desk
	Pictures     *pictures.Desk
	Intake       *intake.Desk
	Bench        *bench.Desk
	Shelves      *shelves.Desk
	Retention    *retention.Desk
	Lists        *lists.Desk
	Snapshot     *snapshot.Desk
	Pages        *pages.Desk
	Covers       *covers.Desk
	Backgrounds  *backgrounds.Desk
	Previews     *previews.Desk
	Albums       *albums.Desk
	Banners      *banners.Desk
	Attachments  *attachments.Desk
	Deleted      *deleted.Desk
	Landing      *landing.Desk
	Samples      *samples.Desk
	Visits       *visit.Desk
	Publish      *publish.Desk
	Lighter      *lighter.Desk
	Measure      *measure.Desk
	Withdraw     *withdraw.Desk
	House        *house.Desk
	TakeAlong    *takealong.Desk
	Mirror       *mirror.Desk
	Destinations *destinations.Desk
	Running      *running.Desk
	Privacy      *privacy.Desk
	Former       *former.Desk
	BringIn      *bringin.Desk
	CarryOver    *carryover.Desk
	Rounds       *rounds.Desk
	District     *district.Desk
	grace        time.Duration
}

// Options are what a desk needs besides its store.
type Options struct {
	Now       func() time.Time   // the clock; time.Now where nil
	SiteURL   string             // address of the practice site, such as http://127.0.0.1:8081
	Demo      bool               // people of the demo sign in with one click
	Card      fs.FS              // what lies on the camera card; nil where there is none
	Reader    derive.Reader      // reads the text in pictures; nil where nothing does
	Visitor   visit.Visitor      // looks at what is live; where nil, nobody does
	Previewer previews.Previewer // keeps previews of shared links; where nil, nobody does
	Encoded   cuts.Memo          // remembers what was encoded; where nil, nothing is remembered
	// Decoding bounds the memory that pictures take while they are decoded, all together; 1 GiB where nil.
	Decoding *derive.Budget
	// Given are rules that are the same in all houses that share the program.
	Given rules.Given
	// Allotted is what the house gets of machines that it shares.
	Allotted access.Allotment
	// Houses are those that this one looks after, as the office of a district; nil where it looks after none.
	Houses district.Houses
	// Name is what the house is called among those that share that; empty where it is alone.
	Name string
	// Places open what live pages are sent to, by kind.
	Places map[string]destinations.OpenPlace
	// Sealer gives what keeps passwords from those who can read the records.
	Sealer access.Keys
	// Provider finds a provider of accounts that people sign in with; nil where there are none.
	Provider provider.Open
	// Measure has a browser measure pages of sites that were made elsewhere; nil where none does.
	Measure former.Measure
	// Compare has a browser compare pages of mended sites with what they were; nil where none does.
	Compare former.Compare
	// Fetch fetches sites from the web; nil where nothing is fetched.
	Fetch bringin.Fetch
	// LeaveJobs leaves long jobs to other programs that work on the house.
	LeaveJobs bool
	// Waits is how long it is waited before a task of a job that failed is tried again; see [jobs.Usual].
	Waits []time.Duration
	// Machine tells of what the program runs on; nil where nobody does.
	Machine running.Machine
	// Data is the folder of the house's own data, which no destination may touch.
	Data string
	// BackupsTo is where backups go by themselves; empty where none do. Whoever writes them there
	// calls [Desk.EraseInBackups] before long when something was erased.
	BackupsTo string
	// Grace is how long a file is kept that no record names; a day where 0.
	Grace time.Duration
}

// New returns the house's own desk on a store, which may do everything.
func New(s *store.Store, o Options) (*Desk, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Decoding == nil {
		o.Decoding = derive.NewBudget(0)
	}
	h, err := access.NewHouse(s, o.Now, o.SiteURL, o.Given)
	if err != nil {
		return nil, err
	}
	h.Allot(o.Allotted)
	d := &Desk{Seat: h.Own(), grace: cmp.Or(o.Grace, graceForFiles)}
	d.People = people.New(d.Seat, o.Demo, o.Sealer)
	d.Passkeys = passkeys.New(d.Seat, d.People, o.Sealer)
	d.Provider = provider.New(d.Seat, o.Provider, o.Sealer)
	d.Jobs = jobs.New(d.Seat, o.Waits)
	if o.LeaveJobs {
		d.Jobs.LeaveToOthers()
	}
	d.Derive = derive.New(d.Seat, o.Decoding, o.Name, o.Reader)
	d.Cuts = cuts.New(d.Seat, d.Jobs, d.Derive, o.Encoded)
	d.Pictures = pictures.New(d.Seat, d.Derive)
	d.Intake = intake.New(d.Seat, d.Jobs, d.Derive, d.Pictures, o.Card)
	d.Bench = bench.New(d.Seat, d.Derive, d.Cuts, d.Pictures)
	d.Shelves = shelves.New(d.Seat, d.Derive, d.Cuts, d.Pictures)
	d.Retention = retention.New(d.Seat, d.Shelves)
	d.Lists = lists.New(d.Seat)
	d.Snapshot = snapshot.New(d.Seat, d.Derive, d.Cuts)
	d.Pages = pages.New(d.Seat, pages.Rooms{Pictures: d.Pictures, Bench: d.Bench, Snapshot: d.Snapshot, Lists: d.Lists})
	d.Covers = covers.New(d.Seat, covers.Rooms{Derive: d.Derive, Snapshot: d.Snapshot, Pages: d.Pages})
	d.Backgrounds = backgrounds.New(d.Seat, backgrounds.Rooms{Derive: d.Derive, Snapshot: d.Snapshot, Pages: d.Pages})
	d.Previews = previews.New(d.Seat, previews.Rooms{Derive: d.Derive, Snapshot: d.Snapshot, Pages: d.Pages, Visitor: o.Visitor, Previewer: o.Previewer})
	d.Albums = albums.New(d.Seat, albums.Rooms{Cuts: d.Cuts, Pictures: d.Pictures, Bench: d.Bench, Snapshot: d.Snapshot, Pages: d.Pages})
	d.Banners = banners.New(d.Seat, banners.Rooms{Derive: d.Derive, Cuts: d.Cuts, Pictures: d.Pictures, Bench: d.Bench, Pages: d.Pages})
	d.Attachments = attachments.New(d.Seat, d.Pictures, d.Pages)
	d.Landing = landing.New(d.Seat, d.Pictures, d.Pages, d.Attachments)
	d.Deleted = deleted.New(d.Seat, d.Pages)
	d.Samples = samples.New(d.Seat, d.Bench, d.Shelves, d.Pages, d.Deleted, d.Landing)
	d.Visits = visit.New(d.Seat, o.Visitor)
	d.Publish = publish.New(d.Seat, publish.Rooms{Jobs: d.Jobs, Pictures: d.Pictures, Shelves: d.Shelves, Snapshot: d.Snapshot, Pages: d.Pages, Lists: d.Lists, Visit: d.Visits})
	d.Lighter = lighter.New(d.Seat, lighter.Rooms{Cuts: d.Cuts, Snapshot: d.Snapshot, Publish: d.Publish, Lists: d.Lists, Visit: d.Visits})
	d.Measure = measure.New(d.Seat, d.Derive, d.Pictures)
	d.Withdraw = withdraw.New(d.Seat, withdraw.Rooms{Derive: d.Derive, Cuts: d.Cuts, Pictures: d.Pictures, Publish: d.Publish, Measure: d.Measure, Lists: d.Lists, Visit: d.Visits, BackupsTo: o.BackupsTo})
	d.House = house.New(d.Seat, house.Rooms{Cuts: d.Cuts, Pictures: d.Pictures, Snapshot: d.Snapshot, Pages: d.Pages, Publish: d.Publish, Lists: d.Lists, Visit: d.Visits})
	d.TakeAlong = takealong.New(d.Seat, d.Pages, d.Snapshot, d.Publish)
	d.Mirror = mirror.New(d.Seat, d.Banners)
	d.Destinations = destinations.New(d.Seat, destinations.Rooms{Jobs: d.Jobs, Mirror: d.Mirror, Visitor: o.Visitor, Open: o.Places, Sealer: o.Sealer, Data: o.Data})
	d.Running = running.New(d.Seat, running.Rooms{Derive: d.Derive, Destinations: d.Destinations, Jobs: d.Jobs, Machine: o.Machine})
	d.Privacy = privacy.New(d.Seat, o.Machine)
	d.Former = former.New(d.Seat, former.Rooms{Jobs: d.Jobs, Derive: d.Derive, Bench: d.Bench, Measure: o.Measure, Compare: o.Compare})
	d.BringIn = bringin.New(d.Seat, bringin.Rooms{Jobs: d.Jobs, Former: d.Former, Fetch: o.Fetch})
	d.CarryOver = carryover.New(d.Seat, carryover.Rooms{Jobs: d.Jobs, Former: d.Former, Pages: d.Pages, Landing: d.Landing})
	d.Rounds = rounds.New(d.Seat, rounds.Rooms{Jobs: d.Jobs, Mirror: d.Mirror, Fetch: o.Fetch})
	d.District = district.New(d.Seat, o.Houses)
	return d, nil
}

// at returns the same desk for another seat.
func (d *Desk) at(s *access.Seat) *Desk {
	return &Desk{s, d.People.At(s), d.Passkeys.At(s), d.Provider.At(s), d.Jobs.At(s), d.Derive.At(s), d.Cuts.At(s), d.Pictures.At(s), d.Intake.At(s), d.Bench.At(s), d.Shelves.At(s), d.Retention.At(s),
		d.Lists.At(s), d.Snapshot.At(s), d.Pages.At(s), d.Covers.At(s), d.Backgrounds.At(s), d.Previews.At(s), d.Albums.At(s), d.Banners.At(s), d.Attachments.At(s), d.Deleted.At(s), d.Landing.At(s), d.Samples.At(s), d.Visits.At(s), d.Publish.At(s), d.Lighter.At(s), d.Measure.At(s), d.Withdraw.At(s), d.House.At(s), d.TakeAlong.At(s), d.Mirror.At(s), d.Destinations.At(s), d.Running.At(s), d.Privacy.At(s), d.Former.At(s), d.BringIn.At(s), d.CarryOver.At(s), d.Rounds.At(s), d.District.At(s), d.grace}
}

// As returns the desk of another person.
func (d *Desk) As(p access.Person) *Desk { return d.at(d.Seat.As(p)) }

// In returns the same desk for work that somebody waits for as long as ctx lasts, such as
// one request.
func (d *Desk) In(ctx context.Context) *Desk { return d.at(d.Seat.In(ctx)) }
