package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/desk"
	"mivlet/desk/destinations"
	"mivlet/edge/folder"
	"mivlet/edge/s3"
	"mivlet/store"
	"mivlet/store/backups"
	"mivlet/store/datafolder"
)

// backing is where backups go by themselves, and how often.
type backing struct {
	to, region, login, secretFile string
	every                         time.Duration
	lookEvery                     time.Duration // for what has to be erased there; half a minute where 0

	mu     sync.Mutex
	known  []backups.Backup // when the place was last looked at, the newest first
	failed string           // why the last one could not be written
}

// note keeps what is known of the place.
func (b *backing) note(all []backups.Backup) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.known = slices.Clone(all)
}

func (b *backing) noteFailed(text string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.failed = text
}

func (b *backing) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&b.to, "backup-to", "", "folder, or address of a bucket such as https://s3.example/paddle/backups, that a backup goes to every so often (default none)")
	cmd.Flags().DurationVar(&b.every, "backup-every", 24*time.Hour, "how often; a few are kept for weeks and months")
	b.signIn(cmd)
}

func (b *backing) signIn(cmd *cobra.Command) {
	cmd.Flags().StringVar(&b.region, "backup-region", "", "region of the bucket (default: the service is asked)")
	cmd.Flags().StringVar(&b.login, "backup-login", "", "name of the access key, for a bucket")
	cmd.Flags().StringVar(&b.secretFile, "backup-secret-file", "", "file of the secret key, for a bucket")
}

// check refuses what cannot be, before anything is started.
func (b *backing) check(data string) error {
	switch {
	case b.to == "":
		return nil
	case b.every < time.Minute:
		return fmt.Errorf("invalid backup-every %s: it is a minute at least", b.every)
	case b.inBucket():
		_, err := b.storage()
		return err
	}
	if at, err := os.Stat(existing(b.to)); err != nil || !at.IsDir() {
		return fmt.Errorf("invalid backup-to %q: it is no folder, and none can be made there", b.to)
	}
	own, err := filepath.Abs(data)
	if err != nil {
		return err
	}
	to, err := filepath.Abs(b.to)
	if err != nil {
		return err
	}
	if data != "" && (destinations.Within(to, own) || destinations.Within(own, to)) {
		return fmt.Errorf("invalid backup-to %q: it must not lie in the data folder, nor the data folder in it", b.to)
	}
	return nil
}

func (b *backing) inBucket() bool {
	return strings.HasPrefix(b.to, "https://") || strings.HasPrefix(b.to, "http://")
}

// storage is the bucket that an address names.
func (b *backing) storage() (s s3.Storage, err error) {
	u, err := url.Parse(b.to)
	if err != nil {
		return s, fmt.Errorf("invalid backup-to %q: %w", b.to, err)
	}
	s.Address, s.Key, s.Region = u.Scheme+"://"+u.Host, b.login, b.region
	s.Bucket, s.Prefix, _ = strings.Cut(strings.Trim(u.Path, "/"), "/")
	if s.Bucket == "" || u.RawQuery != "" || u.User != nil {
		return s, fmt.Errorf("invalid backup-to %q: write it as https://s3.example/bucket", b.to)
	}
	if b.login == "" || b.secretFile == "" {
		return s, errors.New("a bucket needs backup-login and backup-secret-file")
	}
	secret, err := os.ReadFile(b.secretFile)
	s.SecretKey = strings.TrimSpace(string(secret))
	return s, err
}

// open opens the place, to write into it or only to read. To be written into, a folder is made where
// there is none.
func (b *backing) open(ctx context.Context, writes bool) (backups.Place, error) {
	if b.inBucket() {
		s, err := b.storage()
		if err != nil {
			return nil, err
		}
		trustRoots()
		return s3.Open(ctx, s)
	}
	if !writes {
		return folder.OpenToRead(b.to)
	}
	if err := os.MkdirAll(b.to, 0o700); err != nil {
		return nil, err
	}
	return folder.OpenPrivate(b.to)
}

// tryEvery is how often restoring is tried.
const tryEvery = 7 * 24 * time.Hour

// run writes a backup whenever one is due, until ctx ends. What fails is tried again a little later, and
// then less and less often.
func (b *backing) run(ctx context.Context, house *datafolder.Folder, d *desk.Desk) {
	failed := time.Duration(0)
	for {
		unerased := b.erase(ctx, d) // first: what is changed is tried anew
		next, err := b.once(ctx, house, time.Now())
		err = errors.Join(err, unerased)
		wait := min(max(time.Until(next), time.Minute), time.Hour) // the clock may be set meanwhile
		if failed = min(max(2*failed, time.Minute), 6*time.Hour); err == nil {
			failed = 0
			b.noteFailed("")
		} else if wait = failed; ctx.Err() == nil {
			b.noteFailed(err.Error())
			slog.Error("the backup failed", "to", b.to, "error", err, "again_in", wait.String())
		}
		for until := time.Now().Add(wait); time.Now().Before(until); {
			select {
			case <-ctx.Done():
				return
			case <-time.After(min(wait, b.look())):
			}
			if left, err := house.ErasuresLeft(); failed == 0 && (err != nil || len(left) > 0) {
				break
			}
		}
	}
}

// look is how often it is looked whether something has to be erased in the backups.
func (b *backing) look() time.Duration { return cmp.Or(b.lookEvery, 30*time.Second) }

// erase takes what was erased in the house out of the backups.
func (b *backing) erase(ctx context.Context, d *desk.Desk) error {
	return d.EraseInBackups(func(do func(*store.Store) (bool, error)) (n int, err error) {
		place, err := b.open(ctx, true)
		if err != nil {
			return 0, err
		}
		defer func() { err = errors.Join(err, place.Close()) }()
		return backups.Change(ctx, place, do)
	})
}

// once does what is due: a backup, taking old ones away, and trying whether the newest would come back.
// It returns when the next backup is due.
func (b *backing) once(ctx context.Context, house *datafolder.Folder, now time.Time) (next time.Time, err error) {
	place, err := b.open(ctx, true)
	if err != nil {
		return next, err
	}
	defer func() { err = errors.Join(err, place.Close()) }()
	all, err := backups.List(ctx, place)
	if err != nil {
		return next, err
	}
	if len(all) == 0 || now.Sub(all[0].At) >= b.every {
		made, err := backups.Write(ctx, house, place, "", now)
		if err != nil {
			return next, err
		}
		slog.Info("wrote a backup", "to", b.to, "backup", made.ID(), "files", made.Files, "bytes", made.Bytes, "new_bytes", made.New)
		b.note(slices.Insert(all, 0, made))
		if _, err := backups.Prune(ctx, place, backups.Usual, time.Local); err != nil {
			return next, err
		}
		if all, err = backups.List(ctx, place); err != nil {
			return next, err
		}
	}
	b.note(all)
	next = all[0].At.Add(b.every)
	if slices.ContainsFunc(all, func(b backups.Backup) bool { return b.Tried != nil && now.Sub(b.Tried.At) < tryEvery }) {
		return next, nil
	}
	trial, err := backups.Try(ctx, place, all[0], house.Files, now)
	if err != nil {
		return next, err
	}
	all[0].Tried = &trial
	b.note(all)
	if len(trial.Faults) > 0 {
		slog.Error("the newest backup would not come back whole", "backup", all[0].ID(), "faults", trial.Faults)
		return next, house.AddTrace(store.Trace{At: now, What: fmt.Sprintf("Tried the newest backup: %d faults. The log has them", len(trial.Faults))})
	}
	return next, house.AddTrace(store.Trace{At: now, What: fmt.Sprintf("Tried the newest backup: all of its %d files would come back", trial.Files)})
}

// backupsCommand lists the backups in a place.
func backupsCommand() *cobra.Command {
	var b backing
	cmd := &cobra.Command{
		Use: "backups PLACE", Short: "List the backups in a folder or a bucket", Args: usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			b.to = args[0]
			place, err := b.open(cmd.Context(), false)
			if err != nil {
				return err
			}
			all, err := backups.List(cmd.Context(), place)
			for _, is := range all {
				tried := "not tried"
				if t := is.Tried; t != nil && len(t.Faults) == 0 {
					tried = "would come back whole (" + t.At.Format(time.DateOnly) + ")"
				} else if t != nil {
					tried = fmt.Sprintf("%d faults (%s)", len(t.Faults), t.At.Format(time.DateOnly))
				}
				fmt.Fprintf(cmd.OutOrStdout(), "%s  %s  %d files, %s; new %s; %s\n", is.ID(), is.House, is.Files, fit.Weight(is.Bytes), fit.Weight(is.New), tried)
			}
			if err == nil && len(all) == 0 {
				fmt.Fprintln(cmd.OutOrStdout(), "No backup is there.")
			}
			return errors.Join(err, place.Close())
		},
	}
	b.signIn(cmd)
	return cmd
}

// byHand reports whether what is restored is a copy that backup wrote, and none of those that were written
// by themselves.
func (b *backing) byHand(id string) bool {
	_, err := os.Stat(filepath.Join(b.to, datafolder.DatabaseName))
	return err == nil && id == ""
}

// restore fills a data folder from a copy that backup wrote, or from one of the backups in a place: the
// newest, or the one that is named.
func (b *backing) restore(ctx context.Context, data, id string) (datafolder.Copied, error) {
	if b.byHand(id) {
		return datafolder.Restore(b.to, data)
	}
	place, err := b.open(ctx, false)
	if err != nil {
		return datafolder.Copied{}, err
	}
	defer place.Close()
	all, err := backups.List(ctx, place)
	if err != nil {
		return datafolder.Copied{}, err
	}
	at := slices.IndexFunc(all, func(is backups.Backup) bool { return id == "" || is.ID() == id })
	if at < 0 {
		return datafolder.Copied{}, fmt.Errorf("%s holds no backup %s: 'mivlet backups' lists them", b.to, id)
	}
	return backups.Restore(ctx, place, all[at], data)
}
