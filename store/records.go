package store

import (
	"time"

	"mivlet/core/rules"
	"mivlet/core/survey"
)

// Records keeps everything about pictures, pages, people and rules; files are kept by
// [Files]. The suite in store/suite says what any implementation must do. It is safe for
// concurrent use. Where a record is missing, what asks for it fails with [ErrNotFound].
type Records interface {
	PictureRecords
	ShelfRecords
	CopyRecords
	PageRecords
	DroppedPageRecords
	SampleRecords
	AlbumRecords
	BannerRecords
	AnswerRecords
	PublishedRecords
	LiveRecords
	CardRecords
	PeopleRecords
	RulesRecords
	RulerRecords
	AttachmentRecords
	DestinationRecords
	JobRecords
	FormerRecords
	RoundRecords
	TrailRecords
	ErasingRecords
	SessionRecords
	KeepingRecords

	// Tx runs do in one transaction: all of its changes are kept, or none. Nobody else
	// writes meanwhile, so that what do reads stays true until it is kept. do must use the
	// records that it is given: others would wait for it for ever.
	Tx(do func(Records) error) error
	// View lets do read the records as they were at one moment.
	View(do func(Records) error) error
}

// PictureRecords keep pictures, their histories and the cuts that were made of them.
type PictureRecords interface {
	// AddPicture keeps a new picture and its step 0.
	AddPicture(p *Picture) error
	// Picture returns the picture with a number.
	Picture(id uint) (Picture, error)
	// PicturesAt returns the pictures at a station, newest first.
	PicturesAt(at Station) ([]Picture, error)
	// PicturesOf returns the pictures of some sections at a station, newest first,
	// no more than most; without sections those of all.
	PicturesOf(at Station, sections []string, most int) ([]Picture, error)
	// Census counts the pictures of the house, and who is seen on them.
	Census() (Census, error)
	// Held counts the pictures of the house, and the bytes of them as they arrived.
	Held() (pictures int, bytes int64, err error)
	// PicturesAfter returns pictures whose numbers follow one, in their order, at most so many.
	PicturesAfter(id uint, most int) ([]Picture, error)
	// PicturesIn returns those of some pictures that are there, by their numbers.
	PicturesIn(ids []uint) (map[uint]Picture, error)
	// VersionsOf returns the versions of those of some pictures that are there.
	VersionsOf(ids []uint) (map[uint]int, error)
	// PicturesByOriginal returns the pictures that were made from a file.
	PicturesByOriginal(hash string) ([]Picture, error)
	// PicturesByOriginals returns the pictures that were made from some files, by those.
	PicturesByOriginals(hashes []string) (map[string][]Picture, error)
	// NameTaken reports whether another picture of the section has a name.
	NameTaken(section, name string, but uint) (bool, error)
	// SavePicture writes a picture back as its next version. Read it in the same
	// transaction. What pages show of it is worked out anew.
	SavePicture(p *Picture) error
	// SetPreview notes the working copy of a picture and its perceptual hash, and
	// nothing else: they may be ready while somebody works on it. It reports whether
	// the picture is still there with the original that they were made from.
	SetPreview(p Picture) (bool, error)
	// SetLooks notes the copies of a picture that show a recipe. It reports whether
	// the picture is still there.
	SetLooks(p Picture) (bool, error)
	// AddStep writes a step that follows the one that is shown. Steps that were undone
	// are kept: they may be somebody else's.
	AddStep(p *Picture, text, person string, at time.Time) error
	// Steps returns the history of a picture, oldest first.
	Steps(picture uint) ([]Step, error)
	// StepsSince returns the steps of a picture from a number on, in the order they were made.
	StepsSince(picture uint, seq int) ([]Step, error)
	// ForgetSteps forgets the steps of a picture before seq, which becomes the first.
	// Their numbers are not given again.
	ForgetSteps(picture uint, seq int) error
	// Step returns one step of the history of a picture.
	Step(picture uint, seq int) (Step, error)
	// Cuts returns the cuts of a picture that were made with a key, in ascending
	// density.
	Cuts(picture uint, key string) ([]Cut, error)
	// AddCuts keeps cuts that were made of one picture, and whether one of them is
	// beyond its budget. It fails with [ErrNotFound] where the picture has gone.
	AddCuts(cuts []Cut, heavy bool) error
	// CountInSection returns how many pictures and pages a section has.
	CountInSection(section string) (int64, error)
	// CutsByHash returns the cuts with a content: an original is none.
	CutsByHash(hash string) ([]Cut, error)
	// CutsIn returns the cuts of some pictures, in ascending density.
	CutsIn(pictures []uint) (map[uint][]Cut, error)
	// DropCuts forgets cuts.
	DropCuts(ids []uint) error
	// AllCuts returns every cut that was made of a picture, newest first.
	AllCuts(picture uint) ([]Cut, error)
	// SetStation moves a picture, and changes nothing else of it.
	SetStation(id uint, to Station) error
	// CutsMadeBefore returns the cuts that were made before a moment, by picture.
	CutsMadeBefore(at time.Time) (map[uint][]Cut, error)
	// SetFaces keeps which faces were found in a picture. What is judged of the pages that
	// show it may change with them.
	SetFaces(p Picture) error
}

// ShelfRecords find pictures on the shelves, and keep what they are found by.
type ShelfRecords interface {
	// Reindex is index for a picture whose tags or former names have changed.
	Reindex(id uint) error
	// Shelf returns the pictures that a query wants, and how many there are without
	// its limits. Numbers are looked for in indexes alone; whole records are read
	// only of what is shown.
	Shelf(q ShelfQuery) ([]Picture, int64, error)
	// Folders returns all folders, also empty ones, with their counts.
	Folders() ([]FolderCount, error)
	// AddFolder keeps a folder and all above it.
	AddFolder(section, path string) error
	// DropFolder takes an empty folder out; it reports whether it was empty.
	DropFolder(section, path string) (bool, error)
	// Tags returns the tags of a picture, in order.
	Tags(id uint) ([]string, error)
	// SetTags replaces the tags of a picture.
	SetTags(id uint, tags []string) error
	// FormerNames returns the names a picture had before.
	FormerNames(id uint) ([]string, error)
	// AddFormerName keeps a name that a picture had, so that it is still found by it.
	AddFormerName(id uint, section, name string) error
	// Brought returns the names of all who brought pictures in.
	Brought() ([]string, error)
	// Twins returns the perceptual hashes of all pictures that are not in the bin.
	Twins() ([]Twins, error)
	// BinnedBefore returns the pictures that were deleted before a moment.
	BinnedBefore(at time.Time) ([]Picture, error)
	// RemovePicture forgets a picture for good. Its files stay while a record names them.
	RemovePicture(id uint) error
	// OnShelf returns how many pictures the shelves hold.
	OnShelf() (int64, error)
}

// CopyRecords keep which copies for screens were made of a picture.
type CopyRecords interface {
	// Copies returns the copies of a picture for a purpose that were made from what a key
	// stands for, in their order.
	Copies(picture uint, purpose, key string) ([]Copy, error)
	// SetCopies keeps the copies of a picture for a purpose, in the place of those before.
	// It fails with [ErrNotFound] where the picture has gone.
	SetCopies(picture uint, purpose, key string, hashes []string) error
}

// PageRecords keep drafts of pages, their histories, and which pictures stand on them.
type PageRecords interface {
	// AddPage keeps a new page and its step 0.
	AddPage(p *Page) error
	// Page returns the page with a number.
	Page(id uint) (Page, error)
	// Pages returns all pages in the order of their sections and addresses.
	Pages() ([]Page, error)
	// AddPageStep writes a new draft of a page as a step that follows the one that is
	// shown; steps that were undone are kept. It fails with ErrStale where the page is
	// no longer at the version that the draft was made from. Call it in a transaction.
	AddPageStep(p *Page, text, person string, at time.Time) error
	// ShowPageStep makes a step of the history the draft.
	ShowPageStep(p *Page, seq int, at time.Time) error
	// PageSteps returns the history of a page, oldest first, without the documents: those
	// of a long history are many times the page.
	PageSteps(page uint) ([]PageStep, error)
	// LastHands returns who made the newest step of each page, by its number.
	LastHands() (map[uint]string, error)
	// StandingOf returns where those of some pictures stand that are there.
	StandingOf(pictures []uint) (map[uint]Standing, error)
	// NoteUnused notes which pictures nothing uses at a moment, and forgets those that something does, or
	// that lie in the bin. One that was changed since counts as unused from then on.
	NoteUnused(at time.Time) error
	// UnusedSince returns the pictures of a section that were noted before a moment and not used since,
	// the one that was unused longest first.
	UnusedSince(section string, since time.Time) ([]Unused, error)
	// TellUnused notes when it was told that unused pictures leave.
	TellUnused(ids []uint, at time.Time) error
	// UseAgain has unused pictures count from a moment on, as if they had been used then.
	UseAgain(ids []uint, at time.Time) error
	// IsPlaced reports whether a number of a picture stands on a draft, also where there is no
	// such picture.
	IsPlaced(picture uint) (bool, error)
	// PagesWith returns the pages that a picture stands on.
	PagesWith(picture uint) ([]Page, error)
	// PagesIn returns those of some pages that are there, in the order of their addresses.
	PagesIn(ids []uint) ([]Page, error)
}

// DroppedPageRecords keep pages that were deleted, until they are brought back or forgotten. All
// other questions are answered as if they were not there, and their addresses are free.
type DroppedPageRecords interface {
	// DropPage deletes a page that is not live.
	DropPage(id uint, at time.Time) error
	// BringPageBack has a deleted page be there again, at an address that is free.
	BringPageBack(id uint, slug string) error
	// DroppedPages returns the deleted pages, those deleted last first.
	DroppedPages() ([]Page, error)
	// DroppedPage returns a deleted page.
	DroppedPage(id uint) (Page, error)
	// RemovePage forgets a deleted page for good, with its history and its earlier live versions.
	RemovePage(id uint) error
}

// SampleRecords keep what was brought in to try on.
type SampleRecords interface {
	// AddSample notes that a page or a picture is there to try on.
	AddSample(kind SampleKind, id uint) error
	// Samples returns the numbers of those that are there, by their kinds.
	Samples() (map[SampleKind][]uint, error)
	// ForgetSamples forgets which were there to try on.
	ForgetSamples() error
}

// RoundRecords keep what looking through live sites found.
type RoundRecords interface {
	// AddRound keeps a round, and what it found in the place of what was found there before. What was found then,
	// too, by its mark, keeps since when it is so and who decided that it stays. A round with a fault found
	// nothing out. The latest 400 rounds of a place are kept.
	AddRound(r *Round, found []Found) error
	// Rounds returns those of a place, the oldest first.
	Rounds(place uint) ([]Round, error)
	// LastRounds returns the last one of each place.
	LastRounds() ([]Round, error)
	// AllFound returns all that is wrong, by place, in the order in which it was found.
	AllFound() ([]Found, error)
	// LeaveFound says who decided that some of it stays, and when; nobody takes that back.
	LeaveFound(ids []uint, by string, at *time.Time) error
	// DropRounds forgets a place.
	DropRounds(place uint) error
}

// AnswerRecords keep two answers about every page.
type AnswerRecords interface {
	// Unsettled returns the pages whose answers were not worked out under these tokens:
	// those that are live for the first answer, all for the second. An empty token asks
	// for none.
	Unsettled(compared, judged string) ([]Page, error)
	// Settle keeps answers that were worked out in the same transaction.
	Settle(pages []Page) error
	// Counts counts what waits; without sections the arrivals and benches of all.
	Counts(sections []string) (Counts, error)
	// PageTitles returns all pages by their titles, in the order of their addresses, front
	// pages last, and whether their drafts show a picture.
	PageTitles(picture uint) ([]PageTitle, error)
	// ChangedPages returns the live pages whose drafts differ from what visitors see.
	ChangedPages() ([]Page, error)
}

// PublishedRecords keep what visitors get, and at what addresses.
type PublishedRecords interface {
	// Publish replaces everything that visitors get of a page, and notes which version of
	// the draft it is. Addresses that are not among the new ones answer from now on that
	// they are gone.
	Publish(p *Page, files []Published, print string, at time.Time) error
	// WasPublished reports whether something was published at an address once.
	WasPublished(path, mark string) (bool, error)
	// PublishedAt returns the file that visitors get at a path. mark, the beginning of a
	// content hash, tells which content is meant; without one there must be no more than
	// one. It fails with [ErrNotFound].
	PublishedAt(path, mark string) (Published, error)
	// ShownToVisitors reports whether visitors get a file of a content as a picture.
	ShownToVisitors(hash string) (bool, error)
	// FilesOf returns all files that visitors get of a page.
	FilesOf(page uint) ([]Published, error)
	// Showing returns the published files that show some pictures.
	Showing(pictures ...uint) ([]Published, error)
	// SiteState returns what changes whenever visitors may get something else anywhere on the site,
	// but for what begins or ends at a time.
	SiteState() (string, error)
	// AllPublished returns every file that visitors get of pages, each content at a path once: where
	// it is, what it is, and the version of the picture that it shows.
	AllPublished() ([]Published, error)
	// GonePaths returns the paths of pages that were taken off and not deleted.
	GonePaths() ([]string, error)
	// SetLighterDue notes whether files are to be made that a live page offers beside its others.
	SetLighterDue(page uint, due bool) error
	// LighterDue returns the pages for which they are to be made, in the order in which they became due.
	LighterDue() ([]uint, error)
	// LiveSite returns what every page has to know of the others that are live.
	LiveSite() (LiveSite, error)
	// SetReport keeps what was checked after publishing.
	SetReport(page uint, report string) error
	// TakeOffline takes everything that visitors get of a page away.
	TakeOffline(p *Page, at time.Time) error
	// MovePage gives a page another address. Where visitors knew the old one, it leads
	// to the new one from now on.
	MovePage(p *Page, section, slug string, at time.Time) error
	// MovedTo returns the page that an old address leads to.
	MovedTo(path string) (Page, error)
	// PageAt returns the page with an address, live or not.
	PageAt(section, slug string) (Page, error)
	// LiveTitles returns every live page by its title, in the order of their addresses.
	LiveTitles() ([]LiveTitle, error)
	// AveragedPages returns the live pages whose files were cut when veils were averages of
	// what they hid.
	AveragedPages() ([]PageTitle, error)
	// LivePagesShowing returns the live pages that show a picture.
	LivePagesShowing(picture uint) ([]Page, error)
}

// LiveRecords keep what visitors once got.
type LiveRecords interface {
	// AddLiveVersion keeps what has just gone live.
	AddLiveVersion(v *LiveVersion) error
	// LiveVersions returns what visitors got of a page, newest first, without documents
	// and files: those of many years are many times the page.
	LiveVersions(page uint) ([]LiveVersion, error)
	// WholeLiveVersions returns what visitors got of a page, newest first, with all of it.
	WholeLiveVersions(page uint) ([]LiveVersion, error)
	// NewestLive returns what visitors got of a page last.
	NewestLive(page uint) (LiveVersion, error)
	// LiveFronts returns the documents, as JSON, of the front pages that are live: that of the
	// house by "", those of sections by their codes.
	LiveFronts() (map[string]string, error)
	// LiveVersion returns one of them.
	LiveVersion(page, id uint) (LiveVersion, error)
}

// PeopleRecords keep who works in the house.
type PeopleRecords interface {
	// People returns all people with their roles, by name.
	People() ([]Person, error)
	// Person returns a person with their roles, in one statement: every request asks.
	Person(id uint) (Person, error)
	// PersonByLogin returns the person with a login.
	PersonByLogin(login string) (Person, error)
	// PersonByInvitation returns the person with an open invitation, by its hash.
	PersonByInvitation(hash string) (Person, error)
	// PersonBySubject returns the person with an account of a provider.
	PersonBySubject(issuer, subject string) (Person, error)
	// Provider returns the provider whose accounts people may sign in with, or [ErrNotFound].
	Provider() (Provider, error)
	// SaveProvider keeps it, in the place of the one before.
	SaveProvider(p Provider) error
	// DropProvider forgets it. What people have there stays noted with them.
	DropProvider() error
	// AddPasskey keeps what a person signs in with from now on; [ErrTaken] where it is kept already.
	AddPasskey(p *Passkey) error
	// Passkeys returns those of a person, the oldest first.
	Passkeys(person uint) ([]Passkey, error)
	// PasskeyByKey returns the one of a key.
	PasskeyByKey(keyID string) (Passkey, error)
	// CountPasskeys returns how many there are in the house.
	CountPasskeys() (int64, error)
	// UsePasskey keeps what its answers are checked with from now on, and when it was used.
	UsePasskey(id uint, kept string, at time.Time) error
	// DropPasskey forgets one of a person; all of them where id is 0.
	DropPasskey(person, id uint) error
	// AddSignedIn keeps where a person has just signed in.
	AddSignedIn(s *SignedIn) error
	// SignedIn returns where a person is signed in, the one that was used last first.
	SignedIn(person uint) ([]SignedIn, error)
	// SeeSignedIn notes that somebody is at work in a session.
	SeeSignedIn(id uint, at time.Time) error
	// EndSignedIn forgets one session of a person; all of them where id is 0.
	EndSignedIn(person, id uint) error
	// DropSignedInBefore forgets the sessions that were used last before a moment.
	DropSignedInBefore(at time.Time) error
	// SavePerson keeps a person and replaces their roles. Call it in a transaction.
	SavePerson(p *Person) error
	// AddDecoded notes that pictures were decoded for so long on a day, as 2006-01-02, and returns for how long that was on
	// that day. What was before that day is forgotten.
	AddDecoded(day string, took time.Duration) (time.Duration, error)
	// CountPeople returns how many people there are.
	CountPeople() (int64, error)
}

// RulesRecords keep the house rules in all their versions.
type RulesRecords interface {
	// SaveRules keeps a version of the house rules; the newest one holds.
	SaveRules(r rules.Rules, person, why string, at time.Time) error
	// Rules returns the house rules that hold with the number of their version, or
	// the ready-made ones as version 0.
	Rules() (rules.Rules, uint, error)
	// RulesVersions returns all versions, newest first.
	RulesVersions() ([]RulesVersion, error)
	// RulesVersion returns one version.
	RulesVersion(id uint) (RulesVersion, error)
	// RulesDraft returns a person's draft of the rules.
	RulesDraft(person uint) (RulesDraft, error)
	// SaveRulesDraft keeps a person's draft of the rules.
	SaveRulesDraft(d RulesDraft) error
	// DropRulesDraft forgets a person's draft.
	DropRulesDraft(person uint) error
	// RulesNumber returns the number of the version that holds; 0 for the ready-made ones.
	RulesNumber() (uint, error)
}

// AttachmentRecords keep the files that are no pictures and that visitors can download.
type AttachmentRecords interface {
	// AddAttachment keeps a new file, and numbers it.
	AddAttachment(a *Attachment) error
	// SaveAttachment keeps what has changed of a file.
	SaveAttachment(a *Attachment) error
	// Attachment returns a file; [ErrNotFound] where there is none.
	Attachment(id uint) (Attachment, error)
	// AttachmentsOf returns the files of some sections, newest first, also those thrown away; nil
	// stands for all sections.
	AttachmentsOf(sections []string) ([]Attachment, error)
	// DropAttachment forgets a file.
	DropAttachment(id uint) error
}

// DestinationRecords keep where live pages are sent to, and what was.
type DestinationRecords interface {
	// AddDestination keeps a new destination.
	AddDestination(d *Destination) error
	// SaveDestination writes a destination back. It fails with [ErrNotFound].
	SaveDestination(d Destination) error
	// Destination returns the destination with a number.
	Destination(id uint) (Destination, error)
	// Destinations returns all of them, in the order in which they came.
	Destinations() ([]Destination, error)
	// RemoveDestination forgets a destination and what was sent to it.
	RemoveDestination(id uint) error
	// SentFiles returns what was sent to a destination, by paths.
	SentFiles(destination uint) ([]SentFile, error)
	// SentOf returns what destinations have of some pictures, by destination and paths.
	SentOf(pictures []uint) ([]SentFile, error)
	// SaveSent keeps files that were sent, in the place of what was known at their paths.
	SaveSent(files []SentFile) error
	// DropSent forgets files that were sent to a destination.
	DropSent(destination uint, paths []string) error
}

// JobRecords keeps work that goes on beside the screens.
type JobRecords interface {
	// AddJob keeps a job that begins. It returns [ErrTaken] where another one of its kind goes on about the same.
	AddJob(j *Job) error
	// SaveJob keeps how far a job has come: what of it is done and failed, whether it has ended and was
	// stopped. All else of it stays as it was.
	SaveJob(j Job) error
	// Job returns one.
	Job(id uint) (Job, error)
	// NoteJob notes how many steps are done of the task that a job of a program is at.
	NoteJob(id uint, program string, within int) error
	// TakeJob gives a job that has not ended to another program. It reports whether the one that had it still did.
	TakeJob(id uint, from, to string) (bool, error)
	// LastJob returns the newest of a kind about something, without its tasks.
	LastJob(kind string, about uint) (Job, error)
	// OpenJobs returns those that have not ended, the oldest first.
	OpenJobs() ([]Job, error)
	// Jobs returns the newest, the last one first.
	Jobs(most int) ([]Job, error)
	// DropJobsEndedBefore forgets those that ended before a moment.
	DropJobsEndedBefore(at time.Time) error
}

// FormerRecords keep sites that were made elsewhere, and what was decided about them.
type FormerRecords interface {
	// AddFormerSite keeps a site that was brought in.
	AddFormerSite(f *FormerSite) error
	// FormerSites returns all, the newest first.
	FormerSites() ([]FormerSite, error)
	// FormerSite returns one.
	FormerSite(id uint) (FormerSite, error)
	// SaveMended keeps the mended site, in the place of one that was kept before. stayed are the pictures that
	// could not be mended.
	SaveMended(id uint, hash string, sum survey.Sum, stayed []string, at time.Time) error
	// SaveFetched keeps that more of a site has come: its archive, bytes and sum, when, and whether that is all. What
	// was mended of it before is forgotten, as it is a part.
	SaveFetched(f FormerSite) error
	// SaveFormerLook keeps what was seen in the pictures of a site, in the place of what was seen before.
	SaveFormerLook(look FormerLook) error
	// FormerLook returns what was seen in the pictures of a site. It fails with [ErrNotFound] where nobody looked.
	FormerLook(site uint) (FormerLook, error)
	// SaveFormerCompared keeps how a mended site compares with what was, in the place of what was found before.
	SaveFormerCompared(c FormerCompared) error
	// FormerCompared returns how a mended site compares with what was. It fails with [ErrNotFound] where nobody compared.
	FormerCompared(site uint) (FormerCompared, error)
	// DropFormerSite forgets a site, and all that was decided about it.
	DropFormerSite(id uint) error
	// ChooseForFormer keeps a decision, in the place of one of its kind about the same thing.
	ChooseForFormer(c *FormerChoice) error
	// FormerChoices returns the decisions about a site, the oldest first.
	FormerChoices(site uint) ([]FormerChoice, error)
	// DropFormerChoice takes a decision about a site back.
	DropFormerChoice(site, id uint) error
}

// RulerRecords keep screenshots and what was measured on them.
type RulerRecords interface {
	// AddSheet keeps a screenshot.
	AddSheet(r *RulerSheet) error
	// Sheets returns all screenshots with their readings, newest first.
	Sheets() ([]RulerSheet, error)
	// Sheet returns a screenshot with its readings.
	Sheet(id uint) (RulerSheet, error)
	// SetScale notes how many device px a screenshot has for each CSS px.
	SetScale(id uint, scale float64) error
	// DropSheet takes a screenshot and its readings out.
	DropSheet(id uint) error
	// AddReading keeps a reading.
	AddReading(r *Reading) error
	// DropReading takes a reading out.
	DropReading(sheet, id uint) error
}

// TrailRecords keep who did what.
type TrailRecords interface {
	// CountTrail returns how many entries there are.
	CountTrail() (int64, error)
	// AddTrace keeps an entry of the trail.
	AddTrace(t Trace) error
	// Redact takes the words out of some entries of the trail and puts others in their
	// place. The chain stays whole.
	Redact(ids []uint, instead string) error
	// CheckTrail follows the chain of the trail and returns what is wrong with it.
	CheckTrail() (faults []string, err error)
	// Trail returns entries, newest first.
	Trail(f TrailFilter) ([]Trace, error)
	// TracesSaying returns the entries about a picture, and all in which one of some words
	// stands.
	TracesSaying(picture uint, words []string) ([]Trace, error)
	// LastTrace returns what was done last with a picture.
	LastTrace(picture uint) (Trace, error)
}

// ErasingRecords find and forget every trace of a picture.
type ErasingRecords interface {
	// FilesMadeOf returns the hashes of the cuts and copies that were made of a picture.
	FilesMadeOf(picture uint) ([]string, error)
	// PagesThatShowed returns the pages that show a picture now, did so once, or were live
	// with it.
	PagesThatShowed(picture uint) ([]uint, error)
	// ForgetLiveVersions takes the earlier live versions of a page away that show one of
	// some pictures, and what the newest one keeps of them. It returns how many went, and
	// the files that they named.
	ForgetLiveVersions(id uint, pictures []uint) (n int, files []string, err error)
	// ForgetOnSteps empties the places of some pictures in the history of a page, and has
	// the lines of it written by rewrite.
	ForgetOnSteps(id uint, pictures []uint, rewrite func(string) string) error
	// SheetsOf returns the screenshots under the ruler that are one of some files.
	SheetsOf(sources []string) ([]RulerSheet, error)
	// BackupsSince returns when backups were written since a moment, as far as the trail
	// knows: those by somebody's hand and those that were written by themselves.
	BackupsSince(at time.Time) (byHand, byThemselves []time.Time, err error)
	// AddErasure notes what has to be erased in backups, too.
	AddErasure(e *Erasure) error
	// ErasuresLeft returns those that have not reached the backups yet, in their order.
	ErasuresLeft() ([]Erasure, error)
	// EndErasure forgets one that has reached the backups.
	EndErasure(id uint) error
	// Scrub overwrites what was deleted wherever the database may still hold it: in the
	// index of words, on free pages and in the write-ahead log. It writes the whole database
	// anew and takes as long as that takes.
	Scrub() error
}
