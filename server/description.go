package server

import (
	"bytes"
	_ "embed"
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
	"row":     "which row, from 1",
	"column":  "the name of a column",
	"form":    "csv, jsonl or parquet",
	"key":     "the secret part of its address",
	"link":    "the secret part of the link",
	"limit":   "how many at most",
	"answer":  "the number of an answer to it",
}

// partExamples are examples of parts of addresses.
var partExamples = map[string]any{"id": 4, "chart": 12, "page": 5, "step": 31, "version": 3, "row": 1, "column": "honey_kg", "form": "csv",
	"answer": 9, "window": "w9Q2AnExample", "key": "k3Yo7AnExample", "link": "k3Yo7AnExample"}

// matters are what the operations of a name are about.
var matters = map[string]string{
	"scripts":        "what programs ask with a key; these stay as they are",
	"signing in":     "how somebody comes in, and what is theirs alone",
	"people":         "a space, its people, what was done, keys and calls to other programs",
	"using again":    "patterns (sentences whose columns are blanks) and looks, kept under names",
	"notes":          "what people say to each other of charts, datasets and pages; none goes out with what is shared",
	"data":           "datasets, their versions, preparations and meanings, and what is computed of them",
	"charts":         "charts, their steps, and what is shared of them",
	"pages":          "stories of charts and text",
	"what is shared": "what readers ask who have a link and no account",
	"the program":    "how it is, for whoever runs it",
}

// withEnding are routes whose number has an ending: 12.csv.
var withEnding = []string{"/api/v1/versions/{version}", "/api/v1/charts/{chart}", "/api/v1/pages/{page}"}

// example is what is sent to an operation, and what it answers; nothing where that is not JSON.
type example struct {
	Sent     json.RawMessage `json:"sent,omitempty"`
	Answered json.RawMessage `json:"answered,omitempty"`
}

// into puts an example to an operation.
func (e *example) into(operation *huma.Operation) {
	const kind = "application/json"
	if e == nil {
		return
	}
	if operation.RequestBody != nil && operation.RequestBody.Content[kind] != nil && e.Sent != nil {
		operation.RequestBody.Content[kind].Example = e.Sent
	}
	if ok := operation.Responses["200"]; ok != nil && ok.Content[kind] != nil && e.Answered != nil {
		ok.Content[kind].Example = e.Answered
	}
}

//go:embed examples.json
var exampleFile []byte

// examples are of the operations by their name, as the tests of the server had them.
var examples = func() (all map[string]*example) {
	if err := json.Unmarshal(exampleFile, &all); err != nil {
		panic(err)
	}
	return all
}()

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
				if parameter.In == "path" && parameter.Example == nil {
					parameter.Example = partExamples[parameter.Name]
					if parameter.Schema != nil && parameter.Schema.Type == "string" && parameter.Example != nil {
						parameter.Example = fmt.Sprint(parameter.Example)
					}
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
			examples[name].into(operation)
		}
	}
	for _, path := range described.Paths {
		for _, operation := range methods(path) {
			if tag := operation.Tags[0]; !slices.ContainsFunc(described.Tags, func(t *huma.Tag) bool { return t.Name == tag }) {
				described.Tags = append(described.Tags, &huma.Tag{Name: tag, Description: matters[tag]})
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
	Method, Path, Summary, Who string
	Sent, Answered             string // examples
	Parameters                 []*huma.Param
	Answers                    []string
	order                      string
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
			if e := examples[method+" "+path]; e != nil {
				one.Sent, one.Answered = indented(e.Sent), indented(e.Answered)
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

func indented(text json.RawMessage) string {
	var out bytes.Buffer
	if text == nil || string(text) == "null" || json.Indent(&out, text, "", "  ") != nil {
		return ""
	}
	return out.String()
}

// apiPage shows the description to people.
func (s *Server) apiPage(c *gin.Context) {
	s.writePage(c, http.StatusOK, "api.html", map[string]any{"Version": s.pages.version, "Groups": s.told})
}
