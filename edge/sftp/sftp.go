// Package sftp sends files to a folder of another machine over SSH (RFC 4251 to 4254;
// draft-ietf-secsh-filexfer-02, which is version 3 of SFTP).
package sftp

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"os"
	"path"
	"time"

	"github.com/pkg/sftp"
	"golang.org/x/crypto/ssh"

	"mivlet/internal/waited"
)

// parts is the folder for files that are not whole yet. Servers do not serve it, as its name begins
// with a dot (common practice), and it goes when sending ends.
const parts = ".mivlet-parts"

// patience is how long a server may take to answer before it counts as not there.
const patience = 20 * time.Second

// Server is a machine and how it is signed in to.
type Server struct {
	Host     string // name, or name:port
	Login    string
	Folder   string
	Password string // where it is empty, Key is used
	Key      string // private, as OpenSSH writes it
	HostKey  string // that it must have, as authorized_keys has it; empty where it is not known yet
}

// UnknownHostError means that nobody has said yet that a server's key is its own.
type UnknownHostError struct {
	Key         string // as authorized_keys has it
	Fingerprint string // SHA256:…, as ssh-keygen -l shows it
}

func (e *UnknownHostError) Error() string { return "the server shows the key " + e.Fingerprint }

// OtherHostError means that a server shows another key than the one that it is known by: it was set
// up anew, or another machine answers in its place.
type OtherHostError struct{ Fingerprint string }

func (e *OtherHostError) Error() string {
	return "another machine answers: its key is " + e.Fingerprint
}

// Folder is a folder of another machine that files are sent to.
type Folder struct {
	conn   *ssh.Client
	client *sftp.Client
	root   string
	n      int
	made   map[string]bool
	stop   func() bool
}

// Open signs in. It fails with an [UnknownHostError] or an [OtherHostError] before anything that is
// secret is sent.
func Open(ctx context.Context, s Server) (*Folder, error) {
	config := &ssh.ClientConfig{User: s.Login, Timeout: patience, HostKeyCallback: s.known}
	if s.HostKey != "" { // of the keys that it has, that one
		if key, _, _, _, err := ssh.ParseAuthorizedKey([]byte(s.HostKey)); err == nil {
			config.HostKeyAlgorithms = algorithms(key.Type())
		}
	}
	if s.Password != "" {
		config.Auth = []ssh.AuthMethod{ssh.Password(s.Password)}
	} else {
		signer, err := ssh.ParsePrivateKey([]byte(s.Key))
		if err != nil {
			return nil, fmt.Errorf("its key cannot be read: %w", err)
		}
		config.Auth = []ssh.AuthMethod{ssh.PublicKeys(signer)}
	}
	at := s.Host
	if _, _, err := net.SplitHostPort(at); err != nil {
		at = net.JoinHostPort(at, "22")
	}
	raw, err := (&net.Dialer{Timeout: patience}).DialContext(ctx, "tcp", at)
	if err != nil {
		return nil, err
	}
	stop := context.AfterFunc(ctx, func() { _ = raw.Close() }) // nobody waits any more
	conn, channels, requests, err := ssh.NewClientConn(raw, at, config)
	if err != nil {
		stop()
		return nil, errors.Join(err, raw.Close())
	}
	f := &Folder{conn: ssh.NewClient(conn, channels, requests), root: s.Folder, made: map[string]bool{}, stop: stop}
	if f.client, err = sftp.NewClient(f.conn, sftp.UseConcurrentWrites(true)); err != nil {
		return nil, errors.Join(err, f.Close())
	}
	if info, err := f.client.Stat(s.Folder); err != nil || !info.IsDir() {
		return nil, errors.Join(fmt.Errorf("there is no folder %s on %s", s.Folder, s.Host), f.Close())
	}
	// What lies there was being written when sending was broken off.
	if err := f.client.RemoveAll(f.at(parts)); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, errors.Join(err, f.Close())
	}
	return f, nil
}

// algorithms are those in which a server can show a key of a type (RFC 8332 for RSA).
func algorithms(kind string) []string {
	if kind == ssh.KeyAlgoRSA {
		return []string{ssh.KeyAlgoRSASHA512, ssh.KeyAlgoRSASHA256}
	}
	return []string{kind}
}

// known compares a server's key with that it is known by.
func (s Server) known(_ string, _ net.Addr, key ssh.PublicKey) error {
	shown := string(ssh.MarshalAuthorizedKey(key))
	switch s.HostKey {
	case "":
		return &UnknownHostError{shown, ssh.FingerprintSHA256(key)}
	case shown:
		return nil
	}
	return &OtherHostError{ssh.FingerprintSHA256(key)}
}

func (f *Folder) at(file string) string { return path.Join(f.root, file) }

// Put writes a file beside its place and moves it there once it is whole.
func (f *Folder) Put(ctx context.Context, file string, data io.Reader) (string, error) {
	for _, dir := range []string{parts, path.Dir(file)} {
		if !f.made[dir] {
			if err := f.client.MkdirAll(f.at(dir)); err != nil {
				return "", err
			}
			f.made[dir] = true
		}
	}
	f.n++
	part := f.at(fmt.Sprintf("%s/%d", parts, f.n))
	out, err := f.client.OpenFile(part, os.O_CREATE|os.O_WRONLY|os.O_TRUNC)
	if err != nil {
		return "", err
	}
	_, err = out.ReadFrom(waited.Reader(ctx, data))
	if err = errors.Join(err, out.Chmod(0o644), out.Close()); err == nil {
		err = f.move(part, f.at(file))
	}
	if err != nil {
		return "", errors.Join(err, f.client.Remove(part))
	}
	return f.Stamp(ctx, file)
}

// move puts a file in the place of another one in one step, where the server can
// (posix-rename@openssh.com); else in two.
func (f *Folder) move(from, to string) error {
	if _, ok := f.client.HasExtension("posix-rename@openssh.com"); ok {
		return f.client.PosixRename(from, to)
	}
	if err := f.client.Remove(to); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return f.client.Rename(from, to)
}

// Stamp returns the size of a file and the second of its last change: SFTP tells no finer.
func (f *Folder) Stamp(_ context.Context, file string) (string, error) {
	info, err := f.client.Stat(f.at(file))
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("%d %d", info.Size(), info.ModTime().Unix()), nil
}

// Open opens a file for reading.
func (f *Folder) Open(_ context.Context, file string) (io.ReadCloser, error) {
	info, err := f.client.Stat(f.at(file))
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() {
		return nil, fmt.Errorf("%s is no file", file)
	}
	return f.client.Open(f.at(file))
}

// Remove takes a file away, and the folders above it that are empty then.
func (f *Folder) Remove(_ context.Context, file string) error {
	if err := f.client.Remove(f.at(file)); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	for up := path.Dir(file); up != "." && f.client.RemoveDirectory(f.at(up)) == nil; up = path.Dir(up) {
		delete(f.made, up)
	}
	return nil
}

// Close signs out.
func (f *Folder) Close() error {
	defer f.stop()
	if f.client == nil {
		return f.conn.Close()
	}
	var err error
	if f.made[parts] {
		if err = f.client.RemoveAll(f.at(parts)); errors.Is(err, fs.ErrNotExist) {
			err = nil
		}
	}
	err = errors.Join(err, f.client.Close())
	_ = f.conn.Close() // the server may have ended it with the session
	return err
}
