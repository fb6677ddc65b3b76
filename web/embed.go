// Package web holds the built front end: the application and the small reader
// that shared pages use. `npm run build` in this folder fills dist.
package web

import "embed"

// Dist is the built front end.
//
//go:embed all:dist
var Dist embed.FS
