// Package sqlite3 stands in for the driver in C that GORM's SQLite names, and that Mivlet
// does not use: nobody who builds Mivlet has to compile it.
package sqlite3
