// Package site turns a live site into files that any web server can serve: under which name each
// address is kept, how the links of a page lead to those files, what has to be sent and what
// removed, and what tells a server where pages have moved.
//
// Files that pages show carry a mark of their content in their names. So a page that is sent never
// shows other files than those that it was made with, whatever is sent before or after it.
package site
