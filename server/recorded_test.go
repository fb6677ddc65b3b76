package server

import (
	"bytes"
	"encoding/json"
	"os"
	"regexp"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
)

// What the tests send and are answered, kept as the examples of the description: LARK_RECORD=examples.json go test ./server
// writes them, and TestTheDescriptionIsComplete holds what is written to the schemas.

// exampleBytes is how long the example of an answer should be at most, and exampleItems how many of a list it has.
const exampleBytes, exampleItems = 1500, 2

var recorded = struct {
	sync.Mutex
	all map[string]*example
}{all: map[string]*example{}}

// record keeps what was sent and answered, if it tells more than what is kept.
func (v *visitor) record(name string, operation *huma.Operation, sent, answered []byte) {
	to := os.Getenv("LARK_RECORD")
	if to == "" {
		return
	}
	e := &example{Sent: tidied(sent), Answered: tidied(answered)}
	if len(e.Sent)+len(e.Answered) <= len(`{}`) || len(e.Sent) > exampleBytes || bytes.ContainsRune(sent, '<') ||
		len(v.faults(operation, e)) > 0 {
		return
	}
	recorded.Lock()
	defer recorded.Unlock()
	if len(recorded.all) == 0 {
		recorded.all = examples // those that were written by hand stay
	}
	if known := recorded.all[name]; known != nil && !better(len(e.Answered)+len(e.Sent), len(known.Answered)+len(known.Sent)) {
		return
	}
	recorded.all[name] = e
	text, err := json.MarshalIndent(recorded.all, "", " ")
	if err == nil {
		err = os.WriteFile(to, append(text, '\n'), 0o644)
	}
	if err != nil {
		panic(err)
	}
}

// faults are what the description of an operation holds against an example of it.
func (v *visitor) faults(operation *huma.Operation, e *example) []error {
	const kind = "application/json"
	var result huma.ValidateResult
	held := func(content *huma.MediaType, text json.RawMessage, mode huma.ValidateMode) {
		var value any
		if content != nil && json.Unmarshal(text, &value) == nil && value != nil {
			huma.Validate(v.server.api.OpenAPI().Components.Schemas, content.Schema, huma.NewPathBuffer(nil, 0), mode, value, &result)
		}
	}
	if operation.RequestBody != nil {
		held(operation.RequestBody.Content[kind], e.Sent, huma.ModeWriteToServer)
	}
	if ok := operation.Responses["200"]; ok != nil {
		held(ok.Content[kind], e.Answered, huma.ModeReadFromServer)
	}
	return result.Errors
}

// better says whether an example of one length is to be had rather than one of another: the longest that is not too long.
func better(length, than int) bool {
	if length > exampleBytes || than > exampleBytes {
		return length < than
	}
	return length > than
}

// secret is a word as only the program makes them; moments are never those of a run.
var (
	secret = regexp.MustCompile(`[A-Za-z0-9_-]{20,}`)
	moment = regexp.MustCompile(`^20\d\d-\d\d-\d\dT[\d:.]+(Z|[+-]\d\d:\d\d)$`)
)

// tidied makes an example of what was said: lists are cut, secrets and moments replaced.
func tidied(text []byte) json.RawMessage {
	var value any
	if everyVersion().Unmarshal(text, &value) != nil {
		return nil
	}
	out, err := json.Marshal(tidiedValue(value))
	if err != nil {
		panic(err)
	}
	return out
}

func tidiedValue(value any) any {
	switch v := value.(type) {
	case []any:
		v = v[:min(len(v), exampleItems)]
		for i := range v {
			v[i] = tidiedValue(v[i])
		}
		return v
	case map[string]any:
		for name := range v {
			if v[name] = tidiedValue(v[name]); v[name] == nil {
				delete(v, name)
			}
		}
	case string:
		if moment.MatchString(v) {
			return "2026-11-30T08:00:00Z"
		}
		return secret.ReplaceAllStringFunc(v, func(word string) string {
			if strings.Contains(word, "_") && strings.ToLower(word) == word {
				return word // a name of several words
			}
			return "k3Yo7AnExample"
		})
	}
	return value
}
