package postgres_test

import (
	"context"
	"log"
	"os"
	"os/exec"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store/postgres"
)

// fellowVariable has this test program be another program on the house at that address.
const fellowVariable = "MIVLET_TEST_FELLOW"

// TestMain runs the tests, or is the other program of the others.
func TestMain(m *testing.M) {
	url := os.Getenv(fellowVariable)
	if url == "" {
		os.Exit(m.Run())
	}
	db, err := postgres.Open(context.Background(), postgres.Address{URL: url, House: "paddle"})
	if err != nil {
		log.Fatal(err)
	}
	f := db.Fellows()
	go f.Alone(context.Background(), "tidying", func(ctx context.Context) {
		_ = f.Tell("I am alone")
		<-ctx.Done()
	})
	f.Hear(context.Background(), func(_, text string) { _ = f.Tell("heard: " + text) }, func(context.Context) { _ = f.Tell("here") })
}

// fellow starts another program on the house.
func fellow(t *testing.T, url string) *exec.Cmd {
	t.Helper()
	cmd := exec.Command(os.Args[0])
	cmd.Env = append(os.Environ(), fellowVariable+"="+url)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	return cmd
}

// Programs hear each other, also after the database was away; one at a time does a duty, and when it is
// killed, another one does.
func TestProgramsHearEachOther(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	at := postgres.Address{URL: server.URL, House: "paddle"}
	db, err := postgres.Open(t.Context(), at)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	f := db.Fellows()
	var mu sync.Mutex
	var all []string
	missed := 0
	heard := func(what string) func() bool {
		return func() bool {
			mu.Lock()
			defer mu.Unlock()
			return strings.Contains(strings.Join(all, "\n"), what)
		}
	}
	const soon, often = 30 * time.Second, 10 * time.Millisecond
	go f.Hear(t.Context(), func(from, text string) {
		mu.Lock()
		defer mu.Unlock()
		assert.NotEqual(t, f.Self(), from)
		all = append(all, text)
	}, func(context.Context) {
		mu.Lock()
		defer mu.Unlock()
		missed++
	})
	require.Eventually(t, func() bool { mu.Lock(); defer mu.Unlock(); return missed == 1 }, soon, often)

	other := fellow(t, server.URL)
	require.Eventually(t, heard("here"), soon, often)
	require.Eventually(t, heard("I am alone"), soon, often)
	require.NoError(t, f.Tell("a page changed"))
	require.Eventually(t, heard("heard: a page changed"), soon, often)
	assert.Error(t, f.Tell(strings.Repeat("x", 8000)))
	n, err := postgres.Others(t.Context(), at)
	require.NoError(t, err)
	assert.Positive(t, n)
	programs, err := f.Programs(t.Context())
	require.NoError(t, err)
	assert.Len(t, programs, 2)
	assert.Contains(t, programs, f.Self())

	// Another house hears nothing, and is not among them.
	elsewhere, err := postgres.Open(t.Context(), postgres.Address{URL: server.URL, House: "rowing"})
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, elsewhere.Close()) })
	require.NoError(t, elsewhere.Fellows().Tell("of no concern"))
	programs, err = elsewhere.Fellows().Programs(t.Context())
	require.NoError(t, err)
	assert.Equal(t, []string{f.Self()}, programs)

	mine := make(chan struct{})
	first := sync.OnceFunc(func() { close(mine) }) // it is done again when the database was away
	go f.Alone(t.Context(), "tidying", func(ctx context.Context) { first(); <-ctx.Done() })
	require.NoError(t, f.Tell("still there?"))
	require.Eventually(t, heard("heard: still there?"), soon, often)
	select {
	case <-mine:
		t.Fatal("two programs do the same duty")
	default:
	}
	require.NoError(t, other.Process.Kill())
	select {
	case <-mine:
	case <-time.After(soon):
		t.Fatal("nobody does the duty of a program that was killed")
	}

	server.Kill()
	assert.Error(t, f.Tell("into the void"))
	server.Start()
	require.Eventually(t, func() bool { mu.Lock(); defer mu.Unlock(); return missed == 2 }, soon, often)
	fellow(t, server.URL)
	require.NoError(t, f.Tell("back again"))
	assert.False(t, heard("of no concern")())
}

// All programs ask the clock of the database.
func TestMomentsAreOfTheDatabase(t *testing.T) {
	t.Parallel()
	at := postgres.Address{URL: servertest.NewPostgres(t).URL, House: "paddle"}
	var programs []*postgres.Fellows
	for range 2 {
		db, err := postgres.Open(t.Context(), at)
		require.NoError(t, err)
		t.Cleanup(func() { assert.NoError(t, db.Close()) })
		programs = append(programs, db.Fellows())
	}
	conn, err := pgx.Connect(t.Context(), at.URL)
	require.NoError(t, err)
	defer conn.Close(context.Background())
	clock := func() (now time.Time) {
		require.NoError(t, conn.QueryRow(t.Context(), "SELECT clock_timestamp()").Scan(&now))
		return now
	}
	for n := range 6 {
		before := clock()
		moment, err := programs[n%2].Moment()
		require.NoError(t, err)
		after := clock()
		assert.LessOrEqual(t, before.UnixMicro(), moment)
		assert.LessOrEqual(t, moment, after.UnixMicro())
	}
}
