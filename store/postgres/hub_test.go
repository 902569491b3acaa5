package postgres_test

import (
	"context"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store/postgres"
)

// However many houses a program has open, one connection hears for all of them and holds all their duties.
// When it breaks off, each house is told, and each duty begins again.
func TestManyHousesHaveOneConnection(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	outside, err := pgx.Connect(t.Context(), server.URL)
	require.NoError(t, err)
	t.Cleanup(func() { _ = outside.Close(context.WithoutCancel(t.Context())) })
	const houses, soon, often = 12, 30 * time.Second, 10 * time.Millisecond
	ctx, end := context.WithCancel(t.Context())
	defer end()
	var missed, begun, ended atomic.Int64
	var mu sync.Mutex
	heard := map[string][]string{}
	var all sync.WaitGroup
	var self string
	var opened []*postgres.DB
	for i := range houses {
		house := fmt.Sprintf("school_%d", i)
		db, err := postgres.Open(ctx, postgres.Address{URL: server.URL, House: house})
		require.NoError(t, err)
		opened = append(opened, db)
		f := db.Fellows()
		self = f.Self()
		all.Go(func() {
			f.Hear(ctx, func(from, text string) {
				mu.Lock()
				defer mu.Unlock()
				heard[house] = append(heard[house], from+": "+text)
			}, func(context.Context) { missed.Add(1) })
		})
		all.Go(func() {
			f.Alone(ctx, "tidying", func(ctx context.Context) { begun.Add(1); <-ctx.Done(); ended.Add(1) })
		})
	}
	require.Eventually(t, func() bool { return missed.Load() == houses && begun.Load() == houses }, soon, often)

	connections := func(name string) (n int) {
		require.NoError(t, outside.QueryRow(t.Context(), "SELECT COUNT(*) FROM pg_stat_activity WHERE application_name LIKE $1", name).Scan(&n))
		return n
	}
	assert.Equal(t, 1, connections("mivlet "+self))
	assert.LessOrEqual(t, connections("mivlet "+self+" %"), 6, "what was read and written went through few")

	for i := range houses {
		_, err := outside.Exec(t.Context(), "SELECT pg_notify($1, $2)", fmt.Sprintf("mivlet_school_%d", i), fmt.Sprintf("other for %d", i))
		require.NoError(t, err)
	}
	told := func() bool {
		mu.Lock()
		defer mu.Unlock()
		for i := range houses {
			if len(heard[fmt.Sprintf("school_%d", i)]) != 1 {
				return false
			}
		}
		return true
	}
	require.Eventually(t, told, soon, often)
	for i := range houses {
		assert.Equal(t, []string{fmt.Sprintf("other: for %d", i)}, heard[fmt.Sprintf("school_%d", i)], "and nothing that is for others")
	}

	_, err = outside.Exec(t.Context(), "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = $1", "mivlet "+self)
	require.NoError(t, err)
	require.Eventually(t, func() bool { return missed.Load() == 2*houses && begun.Load() == 2*houses }, soon, often)
	assert.EqualValues(t, houses, ended.Load())

	end()
	all.Wait()
	for _, db := range opened {
		assert.NoError(t, db.Close())
	}
	require.Eventually(t, func() bool { return connections("mivlet "+self+"%") == 0 }, soon, often)
}

// A duty is done once also within a program, and whoever works on a house is seen there only as long as he does,
// whatever other houses the program has.
func TestDutiesAndProgramsOfOneConnection(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	open := func(house string) *postgres.DB {
		db, err := postgres.Open(t.Context(), postgres.Address{URL: server.URL, House: house})
		require.NoError(t, err)
		return db
	}
	const soon, often = 30 * time.Second, 10 * time.Millisecond
	outside, err := pgx.Connect(t.Context(), server.URL)
	require.NoError(t, err)
	t.Cleanup(func() { _ = outside.Close(context.WithoutCancel(t.Context())) })
	here := func() (n int) {
		require.NoError(t, outside.QueryRow(t.Context(), "SELECT COUNT(*) FROM pg_locks WHERE locktype = 'advisory' AND objid = hashtext('paddle')::oid AND classid = hashtext('mivlet here')::oid").Scan(&n))
		return n
	}
	one := open("paddle")
	assert.Equal(t, 1, here(), "seen as soon as the house is open")
	two := open("rowing")
	t.Cleanup(func() { assert.NoError(t, two.Close()) })
	paddle, rowing := one.Fellows(), two.Fellows()
	var all sync.WaitGroup
	defer all.Wait()
	rest, stop := context.WithCancel(t.Context())
	defer stop()
	heard := make(chan struct{}, 9)
	hear := func(ctx context.Context, f *postgres.Fellows) {
		all.Go(func() { f.Hear(ctx, func(string, string) {}, func(context.Context) { heard <- struct{}{} }) })
		<-heard
	}
	hear(rest, rowing)

	// Two who want the same duty, in one program: one after the other.
	var doing, most atomic.Int64
	do := func(ctx context.Context) {
		most.Store(max(most.Load(), doing.Add(1)))
		<-ctx.Done()
		doing.Add(-1)
	}
	first, endFirst := context.WithCancel(t.Context())
	began := make(chan struct{})
	all.Go(func() { paddle.Alone(first, "tidying", func(ctx context.Context) { close(began); do(ctx) }) })
	<-began
	second, endSecond := context.WithCancel(t.Context())
	after := make(chan struct{})
	all.Go(func() { paddle.Alone(second, "tidying", func(ctx context.Context) { close(after); do(ctx) }) })
	other := make(chan struct{})
	all.Go(func() { rowing.Alone(rest, "tidying", func(ctx context.Context) { close(other); <-ctx.Done() }) })
	<-other // of another house, which is another duty, and comes after the second was looked at
	select {
	case <-after:
		t.Fatal("two do the same duty")
	default:
	}
	endFirst()
	select {
	case <-after:
	case <-time.After(soon):
		t.Fatal("nobody does a duty that was given back")
	}
	assert.EqualValues(t, 1, most.Load())

	// Others take over as soon as this program lets go, though its connection goes on.
	free := func() (got bool) {
		require.NoError(t, outside.QueryRow(t.Context(), "SELECT pg_try_advisory_lock(hashtext('mivlet tidying'), hashtext('paddle'))").Scan(&got))
		return got
	}
	assert.False(t, free())
	endSecond()
	require.Eventually(t, free, soon, often)

	// Who is seen in which house.
	_, err = outside.Exec(t.Context(), "SELECT set_config('application_name', 'mivlet elsewhere', false), pg_advisory_lock_shared(hashtext('mivlet here'), hashtext('paddle'))")
	require.NoError(t, err)
	seen := func(f *postgres.Fellows) []string {
		programs, err := f.Programs(t.Context())
		require.NoError(t, err)
		return programs
	}
	assert.ElementsMatch(t, []string{"elsewhere", paddle.Self()}, seen(paddle), "asked by a connection of its own")
	assert.Equal(t, []string{rowing.Self()}, seen(rowing))
	while, leave := context.WithCancel(t.Context())
	hear(while, paddle)
	assert.ElementsMatch(t, []string{"elsewhere", paddle.Self()}, seen(paddle), "asked by the connection of all")
	n, err := postgres.Others(t.Context(), postgres.Address{URL: server.URL, House: "paddle"})
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Equal(t, 2, here())
	leave()
	require.NoError(t, one.Close())
	require.Eventually(t, func() bool { return here() == 1 }, soon, often)
}
