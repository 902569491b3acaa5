package provider

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net"
	"net/url"
	"slices"
	"strings"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/store"
)

const (
	mostTitle  = 60
	mostGroups = 200
)

// Settings returns the provider of the house, without its secret; false where there is none.
func (d *Desk) Settings() (store.Provider, bool, error) {
	if err := d.MayKeep(); err != nil {
		return store.Provider{}, false, err
	}
	p, err := d.Store.Provider()
	if errors.Is(err, store.ErrNotFound) {
		return p, false, nil
	}
	p.Secret = ""
	return p, err == nil, err
}

// Offered is what whoever wants to sign in is told of the provider: its title; "" where there is none.
func (d *Desk) Offered() (string, error) {
	p, err := d.Store.Provider()
	if errors.Is(err, store.ErrNotFound) || d.open == nil {
		return "", nil
	}
	return p.Title, err
}

// purpose binds the secret to the account that it was entered for: whoever changes a record cannot make
// it go to another server.
func purpose(p store.Provider) string {
	return strings.Join([]string{"provider", p.ClientID, p.Issuer}, "\n")
}

// Save keeps the provider of the house, when it answers. secret may be empty, and is then the one that
// is kept, unless it was entered for another account. back is where people come back to.
func (d *Desk) Save(ctx context.Context, p store.Provider, secret, back string) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	if d.open == nil {
		return access.Refuse(access.Clash, "This house takes no accounts from elsewhere.", "Ask whoever runs it.")
	}
	p.Title, p.Issuer, p.ClientID, p.Claim = words.VisibleLine(p.Title, mostTitle), strings.TrimSpace(p.Issuer), strings.TrimSpace(p.ClientID), strings.TrimSpace(p.Claim)
	p.Groups = slices.DeleteFunc(slices.Clone(p.Groups), func(g store.GroupRole) bool { return strings.TrimSpace(g.Group) == "" })
	if err := d.check(&p); err != nil {
		return err
	}
	before, err := d.Store.Provider()
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return err
	}
	if secret = strings.TrimSpace(secret); secret == "" && purpose(before) == purpose(p) && before.Secret != "" {
		kept, err := key.Open(before.Secret, purpose(before))
		if err != nil {
			return access.Because(access.Bad, "The secret cannot be read: it was kept with another key.", "Enter it again.", err)
		}
		secret = string(kept)
	}
	if secret == "" {
		return access.Refuse(access.Bad, "The client secret is missing.", "The provider shows it where this house is entered there.")
	}
	if _, err := d.open(ctx, Client{p.Issuer, p.ClientID, secret, back, p.Claim}); err != nil {
		return unreachable(p, err)
	}
	if p.Secret, err = key.Seal([]byte(secret), purpose(p)); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		if err := s.SaveProvider(p); err != nil {
			return err
		}
		return d.Trace(s, "", "Lets people sign in with accounts of %s (%s)", p.Title, p.Issuer)
	})
}

func unreachable(p store.Provider, err error) error {
	return access.Because(access.Bad, fmt.Sprintf("%s does not answer as a provider of accounts.", p.Issuer), "Check the address: an issuer of OpenID Connect tells its settings below it.", err)
}

func (d *Desk) check(p *store.Provider) error {
	at, err := url.Parse(p.Issuer)
	switch {
	case p.Title == "":
		return access.Refuse(access.Bad, "The provider needs a name.", "People read it where they sign in, such as the name of your school.")
	case err != nil || at.Host == "" || at.Scheme != "https" && !(at.Scheme == "http" && loopback(at.Hostname())):
		return access.Refuse(access.Bad, fmt.Sprintf("%q is no address of an issuer.", p.Issuer), "It begins with https://, and stands in what the provider tells administrators.")
	case p.ClientID == "":
		return access.Refuse(access.Bad, "The client ID is missing.", "The provider shows it where this house is entered there.")
	case len(p.Groups) > 0 && p.Claim == "":
		return access.Refuse(access.Bad, "Groups have roles, and nothing says where the provider tells groups.", "Enter the claim, often named groups.")
	case len(p.Groups) > mostGroups:
		return access.Refuse(access.Bad, fmt.Sprintf("A house has %d lines of groups at most.", mostGroups), "Take some out.")
	}
	for i, g := range p.Groups {
		p.Groups[i].Group = strings.TrimSpace(g.Group)
		if _, known := d.Rules().Section(g.Section); !known {
			return access.Refuse(access.Bad, fmt.Sprintf("There is no section %q.", g.Section), "Choose one of the house.")
		}
		if r := access.Role(g.Role); r != access.Contributor && r != access.Publisher {
			return access.Refuse(access.Bad, fmt.Sprintf("There is no role %q.", g.Role), "Choose contributor or publisher.")
		}
	}
	slices.SortStableFunc(p.Groups, func(a, b store.GroupRole) int {
		return cmp.Or(strings.Compare(a.Group, b.Group), strings.Compare(a.Section, b.Section))
	})
	return nil
}

func loopback(host string) bool {
	ip := net.ParseIP(host)
	return host == "localhost" || ip != nil && ip.IsLoopback()
}

// Remove ends signing in with accounts of the provider. The people stay, and sign in when they are
// invited and choose a password.
func (d *Desk) Remove() error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		if err := s.DropProvider(); err != nil {
			return err
		}
		return d.Trace(s, "", "No longer lets people sign in with accounts from elsewhere")
	})
}
