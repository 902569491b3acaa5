package destinations

import (
	"crypto/ed25519"
	"crypto/rand"
	"encoding/json"
	"encoding/pem"
	"strings"

	"golang.org/x/crypto/ssh"

	"mivlet/desk/access"
	"mivlet/store"
)

// purpose binds a secret to the account that it was entered for: whoever changes a record cannot
// make it go to another server.
func purpose(d store.Destination) string {
	return strings.Join([]string{"destination", d.Kind, d.Login, d.Host}, "\n")
}

// secretOf opens the secret of a destination.
func (d *Desk) secretOf(to store.Destination) (Secret, error) {
	var s Secret
	if to.Kind == InFolder {
		return s, nil
	}
	if to.Secret == "" {
		return s, access.Refuse(access.Bad, "It is not known yet how to sign in to "+Where(to)+".", "Enter the password.")
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return s, err
	}
	data, err := key.Open(to.Secret, purpose(to))
	if err != nil {
		return s, access.Because(access.Bad, "The password of "+to.Title+" cannot be read: it was kept with another key.", "Enter it again.", err)
	}
	return s, json.Unmarshal(data, &s)
}

// signIn keeps how a destination is signed in to. A password goes only to the account that it was
// entered for.
func (d *Desk) signIn(to *store.Destination, c Change) error {
	if c.Kind == InFolder {
		return nil
	}
	other := to.Host != c.Host || to.Login != c.Login || to.Kind != c.Kind
	if to.Host != c.Host {
		to.HostKey = ""
	}
	to.Kind, to.Host, to.Login = c.Kind, c.Host, c.Login
	s := Secret{Password: c.Password}
	switch {
	case c.Password != "":
		to.PublicKey = ""
	case to.Secret != "" && !other:
		return nil
	case c.Kind != OverSSH || to.Secret != "" && to.PublicKey == "":
		return access.Refuse(access.Bad, "The password is missing.", "Enter the password of "+c.Login+" on "+c.Host+".")
	default:
		var err error
		if s.Key, to.PublicKey, err = newKey(); err != nil {
			return err
		}
	}
	data, err := json.Marshal(s)
	if err != nil {
		return err
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return err
	}
	to.Secret, err = key.Seal(data, purpose(*to))
	return err
}

// newKey makes a pair of keys (Ed25519; RFC 8709), the public one as a line of authorized_keys.
func newKey() (private, public string, err error) {
	pub, priv, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		return "", "", err
	}
	block, err := ssh.MarshalPrivateKey(priv, "")
	if err != nil {
		return "", "", err
	}
	line, err := ssh.NewPublicKey(pub)
	if err != nil {
		return "", "", err
	}
	return string(pem.EncodeToMemory(block)), strings.TrimSpace(string(ssh.MarshalAuthorizedKey(line))) + " mivlet", nil
}

// Trust says that the key which a server shows is its own. Until then nothing is sent to it, not
// even a password.
func (d *Desk) Trust(id uint, key string) error {
	parsed, _, _, _, err := ssh.ParseAuthorizedKey([]byte(key))
	if err != nil {
		return access.Because(access.Bad, "That is no key of a server.", "Look at the destination again.", err)
	}
	return d.changing(id, "Confirmed the key of the server of %s: "+ssh.FingerprintSHA256(parsed), func(s store.Records, to *store.Destination) error {
		if to.Kind != OverSSH {
			return access.Refuse(access.Bad, "Only servers over SSH are known by a key.", "")
		}
		to.HostKey, to.Failed = string(ssh.MarshalAuthorizedKey(parsed)), ""
		return s.SaveDestination(*to)
	})
}
