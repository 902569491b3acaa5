package destinations_test

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/crypto/ssh"

	"mivlet/core/site"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/destinations"
	"mivlet/internal/sealed"
	"mivlet/store"
)

// far is a house whose destinations are nowhere: what they would be opened with is seen.
func far(t *testing.T) (b *desktest.Fixture, opened *[]destinations.Secret) {
	t.Helper()
	opened = &[]destinations.Secret{}
	file := filepath.Join(t.TempDir(), "key")
	b = desktest.FreshWith(t, func(o *desk.Options) {
		open := func(_ context.Context, d store.Destination, s destinations.Secret) (destinations.Place, error) {
			if d.Kind == destinations.OverSSH && d.HostKey == "" {
				return nil, &destinations.UnknownHostError{Key: hostKey, Fingerprint: "SHA256:abc"}
			}
			*opened = append(*opened, s)
			return nil, errors.New("nobody answers")
		}
		o.Places = map[string]destinations.OpenPlace{destinations.InFolder: open, destinations.OverSSH: open, destinations.OverWebDAV: open, destinations.InBucket: open}
		o.Sealer = func() (access.Sealer, error) { return sealed.Load(file) }
	})
	return b, opened
}

// hostKey is that of an invented server.
const hostKey = "ssh-ed25519 AAAAC3NzaC1lZDI1NTE5AAAAIAABAgMEBQYHCAkKCwwNDg8QERITFBUWFxgZGhscHR4f\n"

func overSSH() destinations.Change {
	return destinations.Change{Kind: destinations.OverSSH, Host: "club.example:2222", Login: "paddle", Password: "four words in a row", Folder: "/srv/www", Base: "https://club.example"}
}

// A password is kept so that it cannot be read in the records, is never given out again, and goes
// only to the account that it was entered for, whatever anybody does to the record.
func TestAPasswordGoesToItsAccountOnly(t *testing.T) {
	t.Parallel()
	b, opened := far(t)
	c := overSSH()
	id, err := b.Destinations.Save(c)
	require.NoError(t, err)
	for file, data := range desktest.FilesOf(t, b.Dir) {
		assert.NotContains(t, string(data), c.Password, file)
	}
	ctx := context.Background()
	_, err = b.Destinations.DryRun(ctx, id)
	var unknown *destinations.UnknownHostError
	require.True(t, errors.As(err, &unknown), "%v", err)
	assert.Empty(t, *opened, "nothing goes to a server that nobody has confirmed")
	desktest.Refusal(t, b.Destinations.Trust(id, "no key"), access.Bad, "That is no key")
	require.NoError(t, b.Destinations.Trust(id, unknown.Key))
	_, err = b.Destinations.DryRun(ctx, id)
	desktest.Refusal(t, err, access.Bad, "club.example cannot be looked at: nobody answers")
	assert.Equal(t, []destinations.Secret{{Password: c.Password}}, *opened)

	// Something else is changed: it is kept.
	c.ID, c.Password, c.Title = id, "", "Our server"
	_, err = b.Destinations.Save(c)
	require.NoError(t, err)
	_, _ = b.Destinations.DryRun(ctx, id)
	assert.Len(t, *opened, 2)
	// Another account or server: it has to be entered again, by whoever wants it to go there.
	for _, change := range []func(*destinations.Change){
		func(c *destinations.Change) { c.Host = "elsewhere.example" }, func(c *destinations.Change) { c.Login = "root" },
		func(c *destinations.Change) {
			c.Kind, c.Host = destinations.OverWebDAV, "https://elsewhere.example/site"
		},
	} {
		other := c
		change(&other)
		_, err = b.Destinations.Save(other)
		desktest.Refusal(t, err, access.Bad, "The password is missing")
	}
	// Whoever writes into the records cannot send it elsewhere either.
	for _, change := range []func(*store.Destination){
		func(d *store.Destination) { d.Host = "elsewhere.example" }, func(d *store.Destination) { d.Login = "root" }, func(d *store.Destination) { d.Kind = destinations.OverWebDAV },
		func(d *store.Destination) { d.Secret = "" },
	} {
		is, err := b.Kept.Destination(id)
		require.NoError(t, err)
		changed := is
		change(&changed)
		require.NoError(t, b.Kept.SaveDestination(changed))
		_, err = b.Destinations.Send(ctx, id)
		require.Error(t, err)
		require.NoError(t, b.Kept.SaveDestination(is))
	}
	assert.Len(t, *opened, 2)
	// Another server's key is confirmed anew.
	c.Host, c.Password = "other.example", "other words"
	_, err = b.Destinations.Save(c)
	require.NoError(t, err)
	_, err = b.Destinations.DryRun(ctx, id)
	assert.True(t, errors.As(err, &unknown), "%v", err)
}

// Without a password, a key is made: its public half is shown, and belongs to the private one.
func TestAKeyIsMadeForAServer(t *testing.T) {
	t.Parallel()
	b, opened := far(t)
	c := overSSH()
	c.Password = ""
	id, err := b.Destinations.Save(c)
	require.NoError(t, err)
	require.NoError(t, b.Destinations.Trust(id, hostKey))
	v, err := b.Destinations.Of(id)
	require.NoError(t, err)
	shown, comment, _, _, err := ssh.ParseAuthorizedKey([]byte(v.PublicKey))
	require.NoError(t, err)
	assert.Equal(t, "mivlet", comment)
	_, _ = b.Destinations.DryRun(context.Background(), id)
	require.Len(t, *opened, 1)
	signer, err := ssh.ParsePrivateKey([]byte((*opened)[0].Key))
	require.NoError(t, err)
	assert.Equal(t, shown.Marshal(), signer.PublicKey().Marshal())
	for file, data := range desktest.FilesOf(t, b.Dir) {
		assert.NotContains(t, string(data), "PRIVATE KEY", file)
	}
	// Changed, it keeps its key; with another account it gets another.
	c.ID, c.Title = id, "Our server"
	_, err = b.Destinations.Save(c)
	require.NoError(t, err)
	again, err := b.Destinations.Of(id)
	require.NoError(t, err)
	assert.Equal(t, v.PublicKey, again.PublicKey)
	c.Login = "other"
	_, err = b.Destinations.Save(c)
	require.NoError(t, err)
	again, err = b.Destinations.Of(id)
	require.NoError(t, err)
	assert.NotEqual(t, v.PublicKey, again.PublicKey)
}

// What cannot be is refused with its reason, and nothing is kept.
func TestDestinationsThatCannotBe(t *testing.T) {
	t.Parallel()
	b, _ := far(t)
	dir := t.TempDir()
	file := filepath.Join(dir, "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	folder := func(c *destinations.Change) { *c = destinations.Change{Folder: dir, Base: "https://club.example"} }
	bucket := func(c *destinations.Change) {
		c.Kind, c.Host, c.Folder, c.Login, c.Password = destinations.InBucket, "https://s3.example", "paddle/site", "key", "secret"
	}
	for says, change := range map[string]func(*destinations.Change){
		"public address":            func(c *destinations.Change) { c.Base = "club.example" },
		"is no name of a server":    func(c *destinations.Change) { c.Host = "club example" },
		"no name of a server":       func(c *destinations.Change) { c.Host = "-oProxyCommand=x" },
		"in which folder":           func(c *destinations.Change) { c.Folder = " " },
		"name is missing":           func(c *destinations.Change) { c.Login = "" },
		"the name is missing that":  func(c *destinations.Change) { c.Login = "a:b" },
		"is no kind of destination": func(c *destinations.Change) { c.Kind = "pigeon" },
		"is no way to tell":         func(c *destinations.Change) { c.Form = "smoke" },
		"-1 hours":                  func(c *destinations.Change) { c.GraceHours = -1 },
		"9999 hours":                func(c *destinations.Change) { c.GraceHours = 9999 },
		"name is too long":          func(c *destinations.Change) { c.Title = strings.Repeat("a", 201) },
		"address of the folder":     func(c *destinations.Change) { c.Kind, c.Host = destinations.OverWebDAV, "dav.example" },
		"address of the storage":    func(c *destinations.Change) { bucket(c); c.Host = "s3.example" },
		"storage cannot be used":    func(c *destinations.Change) { bucket(c); c.Host += "/paddle" },
		`"north/9" is no region`:    func(c *destinations.Change) { bucket(c); c.Region = "north/9" },
		"is no bucket":              func(c *destinations.Change) { bucket(c); c.Folder = "Paddle" },
		`"paddle/../x" is no`:       func(c *destinations.Change) { bucket(c); c.Folder = "paddle/../x" },
		"password is missing":       func(c *destinations.Change) { bucket(c); c.Password = "" },
		"not the whole path":        func(c *destinations.Change) { folder(c); c.Folder = "www" },
		"whole path of a folder":    func(c *destinations.Change) { folder(c); c.Folder = "/" },
		"There is no folder":        func(c *destinations.Change) { folder(c); c.Folder = dir + "/nothing" },
		"there is no folder":        func(c *destinations.Change) { folder(c); c.Folder = file },
	} {
		c := overSSH()
		change(&c)
		_, err := b.Destinations.Save(c)
		r, ok := desktest.AsRefusal(err)
		require.True(t, ok, "%s: %v", says, err)
		assert.Contains(t, strings.ToLower(r.What), strings.ToLower(says), says)
	}
	all, err := b.Destinations.All()
	require.NoError(t, err)
	assert.Empty(t, all)

	_, err = b.Destinations.Save(destinations.Change{Folder: dir, Base: "https://club.example"})
	require.NoError(t, err)
	inside := filepath.Join(dir, "inside")
	require.NoError(t, os.Mkdir(inside, 0o750))
	for _, at := range []string{dir, inside} {
		_, err = b.Destinations.Save(destinations.Change{Folder: at, Base: "https://two.example"})
		desktest.Refusal(t, err, access.Bad, "club.example sends to")
	}
	desktest.Refusal(t, b.Destinations.Remove(99), access.Missing, "The destination")
}

// Mivlet's own data never becomes what visitors see, also by a link.
func TestTheHousesOwnDataIsNoDestination(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	b := desktest.FreshWith(t, func(o *desk.Options) {
		o.Data = data
		o.Places = map[string]destinations.OpenPlace{destinations.InFolder: func(context.Context, store.Destination, destinations.Secret) (destinations.Place, error) {
			return nil, nil
		}}
	})
	inside, link := filepath.Join(data, "files"), filepath.Join(t.TempDir(), "link")
	require.NoError(t, os.Mkdir(inside, 0o750))
	require.NoError(t, os.Symlink(data, link))
	for _, at := range []string{data, inside, filepath.Dir(data), link} {
		_, err := b.Destinations.Save(destinations.Change{Folder: at, Base: "https://club.example", Form: string(site.NoForm)})
		desktest.Refusal(t, err, access.Bad, "Mivlet keeps its own data there")
	}
}
