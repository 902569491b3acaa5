// Package servertest starts real servers for tests: databases, object storage and servers that files are
// sent to, each on an address of this machine that is free, with its own folder.
package servertest
