package main

import (
	"cmp"
	"context"
	"errors"
	"path/filepath"
	"strings"
	"sync"

	"mivlet/desk/access"
	"mivlet/desk/destinations"
	"mivlet/edge/folder"
	"mivlet/edge/s3"
	"mivlet/edge/sftp"
	"mivlet/edge/webdav"
	"mivlet/internal/sealed"
	"mivlet/store"
)

// places open what live pages are sent to, by kind.
var places = map[string]destinations.OpenPlace{
	destinations.InFolder: func(_ context.Context, d store.Destination, _ destinations.Secret) (destinations.Place, error) {
		return folder.Open(d.Folder)
	},
	destinations.OverSSH: func(ctx context.Context, d store.Destination, s destinations.Secret) (destinations.Place, error) {
		f, err := sftp.Open(ctx, sftp.Server{Host: d.Host, Login: d.Login, Folder: d.Folder, Password: s.Password, Key: s.Key, HostKey: d.HostKey})
		var unknown *sftp.UnknownHostError
		if errors.As(err, &unknown) {
			return nil, &destinations.UnknownHostError{Key: unknown.Key, Fingerprint: unknown.Fingerprint}
		}
		return f, err
	},
	destinations.OverWebDAV: func(ctx context.Context, d store.Destination, s destinations.Secret) (destinations.Place, error) {
		return webdav.Open(ctx, d.Host, d.Login, s.Password)
	},
	destinations.InBucket: func(ctx context.Context, d store.Destination, s destinations.Secret) (destinations.Place, error) {
		bucket, prefix, _ := strings.Cut(d.Folder, "/")
		return s3.Open(ctx, s3.Storage{Address: d.Host, Bucket: bucket, Prefix: prefix, Key: d.Login, SecretKey: s.Password, Region: d.Region})
	},
}

// keyName is the file of the key that passwords for other servers are kept under, where no other
// is said. It lies beside the database, and is in no backup of it.
const keyName = "mivlet.key"

// sealer loads the key when it is needed first.
func (o *serving) sealer() access.Keys {
	return sync.OnceValues(func() (access.Sealer, error) {
		return sealed.Load(cmp.Or(o.keyFile, filepath.Join(o.data, keyName)))
	})
}
