package pictures

import (
	"path"
	"strings"

	"mivlet/core/naming"
)

// AttachedName is what a file is called on the site: portable everywhere.
func AttachedName(name, extension string) string {
	base := BaseName(name)
	clean := FolderName(strings.TrimSuffix(base, path.Ext(base)))
	if clean == "" {
		clean = "file"
	}
	if naming.Reserved(clean) {
		clean += "-file"
	}
	return clean + extension
}
