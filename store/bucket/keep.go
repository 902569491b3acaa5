package bucket

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"time"

	"github.com/minio/minio-go/v7"

	"mivlet/store"
)

// A sweep takes away what was last kept long ago. Meanwhile another program may keep the same content, and
// storage has no locks. So whoever sweeps leaves a marker first, and looks then how old the file is; whoever
// keeps writes the file first, and looks then for a marker. Storage answers with what was written last
// (Amazon S3, "data consistency model"; other services that understand the protocol promise the same).
// Hence, if the sweep does not see the new file, it had left its marker before the file was written, and
// whoever keeps sees that, or that the sweep has ended; then the file is there, or is written again.

const (
	// sweepWithin is how long a sweep has for one file, from its marker on.
	sweepWithin = 20 * time.Second
	// markerStale is the age at which the sweep that left a marker has ended in any case.
	markerStale = 3 * sweepWithin
	// lookAgain is how long whoever keeps waits before looking for the marker again.
	lookAgain = 20 * time.Millisecond
)

// sniffed is how much of a content tells its media type (WHATWG, MIME Sniffing, 5.2; Go looks at 512 bytes).
const sniffed = 512

// keep implements Keep of what came in.
func (f *Files) keep(in *store.Incoming, mediaType string) error {
	defer in.Discard()
	ctx := context.Background()
	if mediaType == "" {
		head := make([]byte, sniffed)
		n, err := in.ReadAt(head, 0)
		if err != nil && !errors.Is(err, io.EOF) {
			return err
		}
		mediaType = http.DetectContentType(head[:n])
	}
	if there, err := f.stat(in.Hash); err == nil {
		mediaType = there.ContentType // the first stays
	} else if !gone(err) {
		return away(err)
	}
	for {
		if _, err := f.core.Client.PutObject(ctx, f.bucket, f.object(in.Hash), io.NewSectionReader(in, 0, in.Bytes), in.Bytes, minio.PutObjectOptions{ContentType: mediaType, DisableMultipart: true}); err != nil {
			return fmt.Errorf("the file cannot be kept: %w", away(err))
		}
		if err := f.waitForSweep(ctx, in.Hash); err != nil {
			return away(err)
		}
		if _, err := f.stat(in.Hash); err == nil || !gone(err) {
			return away(err)
		}
	}
}

// waitForSweep waits until nobody is about to take a file away that was just written.
func (f *Files) waitForSweep(ctx context.Context, hash string) error {
	for begun := time.Now(); ; time.Sleep(lookAgain) {
		_, err := f.core.StatObject(ctx, f.bucket, f.marker(hash), minio.StatObjectOptions{})
		if err != nil && gone(err) {
			return nil
		}
		if err != nil {
			return err
		}
		if time.Since(begun) > markerStale { // it was there before that, too: nobody sweeps so long
			return f.core.RemoveObject(ctx, f.bucket, f.marker(hash), minio.RemoveObjectOptions{})
		}
	}
}

// DeleteKeptBefore implements [store.Files].
func (f *Files) DeleteKeptBefore(hash string, before time.Time) (int64, error) {
	if store.CheckHash(hash) != nil {
		return 0, nil
	}
	if old, err := f.keptBefore(context.Background(), hash, before); !old || err != nil {
		return 0, away(err)
	}
	ctx, stop := context.WithTimeout(context.Background(), sweepWithin)
	defer stop()
	if _, err := f.core.Client.PutObject(ctx, f.bucket, f.marker(hash), bytes.NewReader(nil), 0, minio.PutObjectOptions{DisableMultipart: true}); err != nil {
		return 0, err
	}
	defer func() {
		_ = f.core.RemoveObject(context.WithoutCancel(ctx), f.bucket, f.marker(hash), minio.RemoveObjectOptions{})
	}()
	if old, err := f.keptBefore(ctx, hash, before); !old || err != nil {
		return 0, err
	}
	info, err := f.stat(hash)
	if err != nil {
		return 0, nil //nolint:nilerr // somebody else took it away
	}
	return info.Size, f.core.RemoveObject(ctx, f.bucket, f.object(hash), minio.RemoveObjectOptions{})
}

func (f *Files) keptBefore(ctx context.Context, hash string, before time.Time) (bool, error) {
	info, err := f.core.StatObject(ctx, f.bucket, f.object(hash), minio.StatObjectOptions{})
	if err != nil && gone(err) {
		return false, nil
	}
	return err == nil && keptAt(info).Before(before), err
}
