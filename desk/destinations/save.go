package destinations

import (
	"cmp"
	"fmt"
	"os"
	"path"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/store"
)

// Change is what a keeper says of a destination.
type Change struct {
	ID         uint // 0 for a new one
	Kind       string
	Title      string
	Host       string // a name or name:port for SSH, an address for WebDAV and object storage
	Login      string // for object storage the name of an access key
	Password   string // empty: the one that is kept or, over SSH, a key
	Folder     string // for object storage a bucket, or bucket/beginning/of/names
	Region     string // of object storage; empty: the service is asked
	Base       string
	Relative   bool
	Form       string
	GraceHours int
	FormerSite uint   // that is sent as it was mended; 0: what is live
	Layout     string // HTML with named places, see core/site; empty for the built-in one
}

// longestGrace is how many hours a file may stay that nothing leads to: three months.
const longestGrace = 24 * 92

// Save adds or changes a destination. Nothing is sent to a new one before somebody has seen what
// would be.
func (d *Desk) Save(c Change) (uint, error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	c.Kind = cmp.Or(c.Kind, InFolder)
	if err := d.check(&c); err != nil {
		return 0, err
	}
	id := c.ID
	return id, d.Store.Tx(func(s store.Records) error {
		all, err := s.Destinations()
		if err != nil {
			return err
		}
		to := store.Destination{Kind: c.Kind, Paused: true, CreatedAt: d.Now()}
		for _, o := range all {
			if o.ID == c.ID {
				to = o
			} else if c.Kind == o.Kind && c.Host == o.Host && (Within(c.Folder, o.Folder) || Within(o.Folder, c.Folder)) {
				return access.Refuse(access.Bad, fmt.Sprintf("%s sends to %s already.", o.Title, Where(o)), "Choose a folder of its own: two destinations must not lie within each other.")
			}
		}
		if c.ID != 0 && to.ID == 0 {
			return access.NotFound(store.ErrNotFound, "The destination")
		}
		if to.ID != 0 && (to.Folder != c.Folder || to.Host != c.Host || to.Kind != c.Kind || to.FormerSite != c.FormerSite) {
			if rows, err := s.SentFiles(to.ID); err != nil || len(rows) > 0 {
				return cmp.Or(err, error(access.Refuse(access.Bad, "Files were sent to "+Where(to)+".", "Add another destination, and remove this one.")))
			}
		}
		if c.FormerSite != 0 {
			if _, err := s.FormerSite(c.FormerSite); err != nil {
				return access.NotFound(err, "The former site")
			}
		}
		if err := d.signIn(&to, c); err != nil {
			return err
		}
		to.Title, to.Folder, to.Region, to.Base, to.Relative = c.Title, c.Folder, c.Region, c.Base, c.Relative
		to.Form, to.GraceHours, to.Layout, to.FormerSite = c.Form, c.GraceHours, c.Layout, c.FormerSite
		to.State, to.Failed = "", ""
		if to.ID != 0 {
			if err := s.SaveDestination(to); err != nil {
				return err
			}
			return d.Trace(s, "", "Changed the destination %s", to.Title)
		}
		if err := s.AddDestination(&to); err != nil {
			return err
		}
		id = to.ID
		return d.Trace(s, "", "Added the destination %s: %s", to.Title, Where(to))
	})
}

// Where tells where files of a destination lie.
func Where(d store.Destination) string {
	switch d.Kind {
	case OverSSH:
		return d.Login + "@" + d.Host + ":" + d.Folder
	case OverWebDAV:
		return d.Host
	case InBucket:
		return d.Host + "/" + d.Folder
	}
	return d.Folder
}

// check refuses what cannot be, and brings the rest into its form.
func (d *Desk) check(c *Change) error {
	base, err := site.ParseBase(c.Base)
	if err != nil {
		return access.Because(access.Bad, "The public address cannot be used.", "Enter the address at which visitors find the folder, such as https://club.example/paddle.", err)
	}
	c.Base = base.String()
	if err := d.checkPlace(c); err != nil {
		return err
	}
	switch {
	case !slices.Contains(site.Forms, site.Form(c.Form)):
		return access.Refuse(access.Bad, fmt.Sprintf("%q is no way to tell a server what has moved.", c.Form), "Choose one of the list.")
	case c.GraceHours < 0 || c.GraceHours > longestGrace:
		return access.Refuse(access.Bad, fmt.Sprintf("%d hours are not possible.", c.GraceHours), fmt.Sprintf("Enter a number of hours between 0 and %d.", longestGrace))
	}
	if c.Layout = strings.TrimSpace(strings.ReplaceAll(c.Layout, "\r\n", "\n")); c.Layout != "" {
		if _, err := site.ParseLayout(c.Layout); err != nil {
			return access.Because(access.Bad, access.Sentence(err), "Nothing was changed.", err)
		}
	}
	c.Title = cmp.Or(strings.TrimSpace(c.Title), base.Host+base.Path)
	if len(c.Title) > 200 {
		return access.Refuse(access.Bad, "The name is too long.", "Enter no more than 200 characters.")
	}
	return nil
}

// machine is a name or an address of a machine, with or without a port.
var machine = regexp.MustCompile(`^([A-Za-z0-9]([A-Za-z0-9.-]*[A-Za-z0-9])?|\[[0-9A-Fa-f:]+\])(:[0-9]{1,5})?$`)

// bucket is a bucket by the rules of its name that all services share, with or without what all names
// in it begin with.
var bucket = regexp.MustCompile(`^[a-z0-9][a-z0-9.-]{1,61}[a-z0-9](/[A-Za-z0-9._-]+)*$`)

// region is a region by what services call theirs (common practice).
var region = regexp.MustCompile(`^[A-Za-z0-9-]{0,60}$`)

func (d *Desk) checkPlace(c *Change) (err error) {
	if d.open[c.Kind] == nil {
		return access.Refuse(access.Bad, fmt.Sprintf("%q is no kind of destination.", c.Kind), "Choose one of the list.")
	}
	c.Host, c.Login, c.Region = strings.TrimSpace(c.Host), strings.TrimSpace(c.Login), strings.TrimSpace(c.Region)
	if c.Kind != InBucket {
		c.Region = ""
	}
	switch c.Kind {
	case OverSSH:
		if !machine.MatchString(c.Host) {
			return access.Refuse(access.Bad, fmt.Sprintf("%q is no name of a server.", c.Host), "Enter a name such as club.example, or club.example:2222 for another port.")
		}
		if folder := strings.TrimSpace(c.Folder); folder == "" || strings.ContainsAny(folder, "\x00\n") {
			return access.Refuse(access.Bad, "It is not said in which folder of the server the files belong.", "Enter its path, such as /srv/www/paddle.")
		}
		c.Folder = path.Clean(strings.TrimSpace(c.Folder))
	case OverWebDAV:
		if _, err := site.ParseBase(c.Host); err != nil {
			return access.Because(access.Bad, "The address of the folder cannot be used.", "Enter all of it, such as https://dav.example/site.", err)
		}
		c.Host, c.Folder = strings.TrimRight(c.Host, "/"), "/"
	case InBucket:
		if at, err := site.ParseBase(c.Host); err != nil || at.Path != "" {
			return access.Because(access.Bad, "The address of the storage cannot be used.", "Enter the address of the service without a bucket, such as https://s3.example.", err)
		}
		folder := strings.Trim(strings.TrimSpace(c.Folder), "/")
		if !bucket.MatchString(folder) || path.Clean(folder) != folder {
			return access.Refuse(access.Bad, fmt.Sprintf("%q is no bucket.", folder), "Enter its name, such as paddle, or paddle/site where all names begin with site.")
		}
		if !region.MatchString(c.Region) {
			return access.Refuse(access.Bad, fmt.Sprintf("%q is no region.", c.Region), "Enter it as the service writes it, such as eu-central-1, or leave it empty.")
		}
		c.Host, c.Folder = strings.TrimRight(c.Host, "/"), folder
	default:
		c.Host, c.Login, c.Password = "", "", ""
		c.Folder, err = d.folder(c.Folder)
		return err
	}
	if c.Login == "" || strings.ContainsAny(c.Login, ":\x00\n") {
		return access.Refuse(access.Bad, "The name is missing that the server is signed in to with.", "Enter the name of the account there.")
	}
	return nil
}

// folder checks a folder that pages are to be sent to.
func (d *Desk) folder(text string) (string, error) {
	folder := filepath.Clean(strings.TrimSpace(text))
	if !filepath.IsAbs(folder) || folder == filepath.Dir(folder) {
		return "", access.Refuse(access.Bad, fmt.Sprintf("%q is not the whole path of a folder.", strings.TrimSpace(text)), "Enter all of it, such as /srv/www/paddle.")
	}
	info, err := os.Stat(folder)
	if err != nil || !info.IsDir() {
		return "", access.Because(access.Bad, "There is no folder "+folder+" on the machine that Mivlet runs on.", "Create it there, and let Mivlet write into it.", err)
	}
	real, err := filepath.EvalSymlinks(folder)
	if err != nil {
		return "", err
	}
	if own, err := filepath.EvalSymlinks(d.data); err == nil && d.data != "" && (Within(real, own) || Within(own, real)) {
		return "", access.Refuse(access.Bad, "Mivlet keeps its own data there, which nobody outside may see.", "Choose another folder.")
	}
	return folder, nil
}

// Within reports whether a folder is another one, or lies in it.
func Within(inner, outer string) bool {
	rel, err := filepath.Rel(outer, inner)
	return err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator))
}
