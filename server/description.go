package server

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
)

// parts are what a part of an address means, wherever it stands.
var parts = map[string]string{
	"id":      "its number",
	"chart":   "the number of a chart",
	"page":    "the number of a page",
	"step":    "the number of a step of its trail",
	"version": "the number of a version of a dataset",
	"row":     "the number of a row",
	"column":  "the name of a column",
	"form":    "csv, jsonl or parquet",
	"key":     "the secret part of its address",
	"link":    "the secret part of the link",
	"limit":   "how many at most",
}

// withEnding are routes whose number has an ending: 12.csv.
var withEnding = []string{"/api/v1/versions/{version}", "/api/v1/charts/{chart}", "/api/v1/pages/{page}"}

// examples are what is sent to some routes.
var examples = map[string]any{
	"POST /api/v1/versions/{version}/prepared": map[string]any{"typed": "keep honey_kg > 0\nwork out per_ha = honey_kg / forage_ha"},
	"POST /api/v1/charts": map[string]any{
		"version": 3,
		"typed":   "plot honey_kg against forage_ha\ncolour by district\nfit line",
	},
	"POST /api/v1/numbers":              map[string]any{"version": 3, "typed": "plot honey_kg against forage_ha\nfit line"},
	"POST /api/v1/charts/{chart}/share": map[string]any{"title": "Honey and forage", "text": "More forage, more honey."},
	"POST /api/keys": map[string]any{
		"name":       "weekly import",
		"scopes":     []string{"add rows"},
		"dataset_id": 4,
		"days":       365,
	},
	"POST /api/invitations": map[string]any{"role": "reader", "uses": 5, "days": 7},
}

// others are the answers that a route has beside the one that was asked for and the refusals that all have.
var others = map[string]map[int]string{
	"GET /s/{key}":                   {http.StatusNotModified: "of a picture: it is what If-None-Match said"},
	"POST /s/{key}":                  {http.StatusSeeOther: "it was right: to the share"},
	"GET /s/{key}/earlier":           {http.StatusSeeOther: "to what it was"},
	"POST /sign-in/{link}":           {http.StatusSeeOther: "signed in: to the front page"},
	"GET /sign-in/{link}":            {http.StatusSeeOther: "somebody is signed in already: to the front page"},
	"GET /organisation":              {http.StatusSeeOther: "to the organisation"},
	"GET /organisation/back":         {http.StatusSeeOther: "signed in: to where they wanted to be"},
	"GET /api/invited/{key}":         {http.StatusGone: "it was used up, taken back, or is too old"},
	"GET /api/v1/charts/{chart}":     {http.StatusNotModified: "it is what If-None-Match said"},
	"PATCH /api/v1/charts/{chart}":   {http.StatusPreconditionFailed: "it is not what If-Match said any more"},
	"PUT /api/v1/datasets/{id}/rows": {http.StatusPreconditionFailed: "it is not what If-Match said any more"},
	"POST /api/space/leave":          {http.StatusConflict: "the space would have no owner"},
	"PATCH /api/people/{id}":         {http.StatusConflict: "the space would have no owner"},
	"DELETE /api/people/{id}":        {http.StatusConflict: "the space would have no owner"},
	"POST /api/new-password":         {http.StatusUnauthorized: "the link was used already, or is too old"},
	"POST /api/invited/{key}":        {http.StatusGone: "it was used up, taken back, or is too old"},
	"POST /api/v1/datasets":          {http.StatusRequestEntityTooLarge: "the file is too large"},
	"POST /api/spaces/file":          {http.StatusRequestEntityTooLarge: "the file is too large"},
	"POST /api/uploads":              {http.StatusInsufficientStorage: "the disk or the quota of the space is full"},
}

// ofShares are the refusals of all that is shared.
var ofShares = map[int]string{
	http.StatusGone:         "it was withdrawn, or has ended",
	http.StatusUnauthorized: "it asks for a password, or for people of its space",
}

// methods are the operations of a path.
func methods(item *huma.PathItem) map[string]*huma.Operation {
	all := map[string]*huma.Operation{}
	for method, operation := range map[string]*huma.Operation{http.MethodGet: item.Get, http.MethodPost: item.Post, http.MethodPut: item.Put,
		http.MethodPatch: item.Patch, http.MethodDelete: item.Delete} {
		if operation != nil {
			all[method] = operation
		}
	}
	return all
}

// describeAll fills in what the routes do not say one by one: parts of addresses, refusals, examples, and what is where.
func (s *Server) describeAll() {
	described := s.api.OpenAPI()
	described.Servers = []*huma.Server{{URL: "/", Description: "the server that this description comes from"}}
	for path, item := range described.Paths {
		for method, operation := range methods(item) {
			name := method + " " + path
			for _, parameter := range operation.Parameters {
				if parameter.Description == "" {
					parameter.Description = parts[parameter.Name]
				}
				if parameter.In == "path" && slices.Contains(withEnding, path) {
					parameter.Description += ", and the ending of a form: 12.csv"
				}
			}
			for status, means := range refusals(s.gates[method+" "+ginPath(path)], method, len(operation.Parameters) > 0) {
				operation.Responses[fmt.Sprint(status)] = &huma.Response{Description: means, Content: problemOf(s)}
			}
			if strings.HasPrefix(path, "/s/{key}") || strings.HasPrefix(path, "/embed/") {
				for status, means := range ofShares {
					operation.Responses[fmt.Sprint(status)] = &huma.Response{Description: means, Content: problemOf(s)}
				}
			}
			for status, means := range others[name] {
				response := &huma.Response{Description: means}
				if status >= 400 {
					response.Content = problemOf(s)
				}
				operation.Responses[fmt.Sprint(status)] = response
			}
			if example := examples[name]; example != nil {
				operation.RequestBody.Content["application/json"].Example = example
			}
		}
	}
	for _, path := range described.Paths {
		for _, operation := range methods(path) {
			if tag := operation.Tags[0]; !slices.ContainsFunc(described.Tags, func(t *huma.Tag) bool { return t.Name == tag }) {
				described.Tags = append(described.Tags, &huma.Tag{Name: tag})
			}
		}
	}
	slices.SortFunc(described.Tags, func(a, b *huma.Tag) int { return strings.Compare(a.Name, b.Name) })
	s.told = toldBy(described, s.gates)
}

// refusals are the ways in which a route that a gate stands before can say no.
func refusals(who gate, method string, parameters bool) map[int]string {
	no := map[int]string{http.StatusTooManyRequests: "too much at once: Retry-After says when to ask again",
		http.StatusUnprocessableEntity: "what was sent cannot be taken; it says why, and what to do"}
	if who.session || who.key != "" {
		no[http.StatusUnauthorized] = "nobody is signed in, or the key is not known"
	}
	if who.key != "" || who.least != "" {
		no[http.StatusForbidden] = "the role, or the key, does not go so far"
	}
	if who.key != "" && method != http.MethodGet {
		no[http.StatusConflict] = "the Idempotency-Key was said with another request, or that one is not answered yet"
	}
	if parameters {
		no[http.StatusNotFound] = "there is nothing there, or it belongs to another space"
	}
	return no
}

// told is an operation as the page of the description tells it.
type told struct {
	Method, Path, Summary, Who, Example string
	Parameters                          []*huma.Param
	Answers                             []string
	order                               string
}

// toldGroup is what is told of one matter.
type toldGroup struct {
	Name string
	Of   []told
}

// toldBy tells a description to people: what scripts ask first, then what the program's own pages ask.
func toldBy(described *huma.OpenAPI, gates map[string]gate) (list []toldGroup) {
	groups := map[string][]told{}
	for path, item := range described.Paths {
		for method, operation := range methods(item) {
			one := told{Method: method, Path: path, Summary: operation.Summary, Who: gates[method+" "+ginPath(path)].name,
				Parameters: operation.Parameters, order: path + method}
			if example := examples[method+" "+path]; example != nil {
				text, _ := json.MarshalIndent(example, "", "  ")
				one.Example = string(text)
			}
			for status, response := range operation.Responses {
				for kind := range response.Content {
					if strings.HasPrefix(status, "2") {
						one.Answers = append(one.Answers, kind)
					}
				}
			}
			slices.Sort(one.Answers)
			groups[operation.Tags[0]] = append(groups[operation.Tags[0]], one)
		}
	}
	for name, of := range groups {
		slices.SortFunc(of, func(a, b told) int { return strings.Compare(a.order, b.order) })
		list = append(list, toldGroup{name, of})
	}
	slices.SortFunc(list, func(a, b toldGroup) int {
		switch "scripts" {
		case a.Name:
			return -1
		case b.Name:
			return 1
		}
		return strings.Compare(a.Name, b.Name)
	})
	return list
}

// apiPage shows the description to people.
func (s *Server) apiPage(c *gin.Context) {
	s.writePage(c, http.StatusOK, "api.html", map[string]any{"Version": s.pages.version, "Groups": s.told})
}
