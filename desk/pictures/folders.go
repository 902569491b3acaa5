package pictures

import (
	"slices"
	"strings"

	"mivlet/core/naming"
)

// FolderName writes one part of a folder's path as addresses have it.
func FolderName(s string) string {
	return strings.Join(naming.Convention{Case: naming.Lower, Joiner: "-"}.Words(s), "-")
}

// CleanTags are tags as they are kept: trimmed, and each once.
func CleanTags(tags []string) []string {
	var out []string
	for _, t := range tags {
		t = strings.ToLower(strings.Join(strings.Fields(t), " "))
		if t != "" && len(t) <= 40 && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	return out
}
