package desk_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Packages from the top down: each may use those that stand below it. All of core is one
// floor, whose packages the compiler keeps in order.
var order = []string{
	"cmd/mivlet", "practice/window", "web", "web/drawing", "practice", "practice/previewer", "demo", "demo/tenyears", "edge/tesseract", "edge/folder", "edge/sftp", "edge/webdav", "edge/s3", "edge/openid", "edge/visitor", "edge/previewer", "edge/browser", "edge/crawl", "internal/health", "internal/metrics", "internal/head", "internal/proxied", "internal/under", "internal/sealed", "internal/waited",
	"store/backups", "store/datafolder", "store/sqlite", "store/postgres", "store/relational", "store/bucket", "store/folder", "internal/hosts", // the rooms do not know how things are kept
	"desk", "desk/district", "desk/rounds", "desk/carryover", "desk/bringin", "desk/former", "desk/privacy", "desk/running", "desk/destinations", "desk/mirror", "desk/takealong", "desk/house", "desk/withdraw", "desk/lighter", "desk/measure", "desk/publish", "desk/covers", "desk/backgrounds", "desk/previews", "desk/albums", "desk/banners", "desk/samples", "desk/deleted", "desk/landing", "desk/intake", "desk/attachments", "desk/pages", "desk/snapshot", "desk/retention", "desk/shelves", "desk/bench", "desk/visit", "desk/lists", "desk/address",
	"desk/pictures", "desk/cuts", "desk/derive", "desk/jobs", "desk/passkeys", "desk/people", "desk/provider", "desk/access", "desk/presence",
	"sentences", "store", "core",
	"internal/traces", // how long it takes is told from wherever it is done
}

// What core has nothing to do with: it computes, and knows no interface, no network, no
// database and no program outside.
var notInCore = []string{"net/http", "html/template", "text/template", "database/sql", "gorm.io/gorm", "os", "os/exec", "log/slog", "path/filepath"}

func TestImportsPointDown(t *testing.T) {
	t.Parallel()
	seen := map[string]bool{}
	require.NoError(t, filepath.WalkDir("..", func(file string, e fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if e.IsDir() && (e.Name() == "node_modules" || strings.HasPrefix(e.Name(), ".") && len(e.Name()) > 2) {
			return filepath.SkipDir
		}
		if !strings.HasSuffix(file, ".go") || strings.HasSuffix(file, "_test.go") {
			return nil
		}
		at := filepath.ToSlash(strings.TrimPrefix(filepath.Dir(file), ".."+string(filepath.Separator)))
		if at == "internal/heavy" || at == "internal/servertest" || at == "edge/placetest" || at == "internal/pinned" || at == "internal/reference" || at == "internal/nocgo" || at == "store/suite" || at == "desk/desktest" || at == "internal/wrap" || strings.HasPrefix(at, "bench") || strings.HasPrefix(at, "e2e") {
			return nil // for tests and measurements
		}
		from := slices.Index(order, floor(at))
		if !assert.GreaterOrEqual(t, from, 0, "%s stands nowhere in the order", at) {
			return nil
		}
		seen[floor(at)] = true
		parsed, err := parser.ParseFile(token.NewFileSet(), file, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, im := range parsed.Imports {
			name, err := strconv.Unquote(im.Path.Value)
			if err != nil {
				return err
			}
			if floor(at) == "core" {
				assert.NotContains(t, notInCore, name, file)
			}
			if strings.HasPrefix(name, "gorm.io/") || name == "database/sql" {
				assert.Contains(t, []string{"store/relational", "store/sqlite", "store/postgres"}, at, "%s knows the database", file)
			}
			if to, ours := strings.CutPrefix(name, "mivlet/"); ours && floor(to) != floor(at) {
				assert.Greater(t, slices.Index(order, floor(to)), from, "%s uses %s", file, to)
			}
		}
		return nil
	}))
	for _, p := range order {
		assert.True(t, seen[p], "%s is in the order, and nowhere else", p)
	}
}

func floor(p string) string {
	if p == "core" || strings.HasPrefix(p, "core/") {
		return "core"
	}
	return path.Clean(p)
}

// No room is so large that nobody wants to be in it.
func TestNoRoomIsTooLarge(t *testing.T) {
	t.Parallel()
	const most = 1500
	for _, p := range order {
		if !strings.HasPrefix(p, "desk") {
			continue
		}
		files, err := filepath.Glob(filepath.Join("..", p, "*.go"))
		require.NoError(t, err)
		lines := 0
		for _, f := range files {
			if !strings.HasSuffix(f, "_test.go") {
				lines += countLines(t, f)
			}
		}
		assert.LessOrEqual(t, lines, most, p)
	}
}
