package server

import (
	"encoding/json"
	"maps"

	"copperlark/core/chart"

	"github.com/danielgtaylor/huma/v2"
)

// documentFields are the fields of requests that hold a chart document.
var documentFields = []string{"document", "before"}

// everyVersion is the form of requests in JSON: chart documents of older versions are
// migrated before they are held against the schema, which is that of the newest.
func everyVersion() huma.Format {
	form := huma.DefaultJSONFormat
	form.Unmarshal = func(data []byte, into any) error {
		if err := huma.DefaultJSONFormat.Unmarshal(data, into); err != nil {
			return err
		}
		untyped, is := into.(*any)
		if !is { // the fields of a typed body migrate themselves
			return nil
		}
		if object, is := (*untyped).(map[string]any); is {
			migrateFields(object)
		}
		return nil
	}
	return form
}

// migrateFields leaves what cannot be read as it is: the schema says what is wrong.
func migrateFields(object map[string]any) {
	for _, name := range documentFields {
		document, is := object[name].(map[string]any)
		if !is || !chart.Outdated(document) {
			continue
		}
		stored, err := json.Marshal(document)
		if err != nil {
			continue
		}
		if stored, err = chart.Upgraded(stored); err != nil {
			continue
		}
		fresh := map[string]any{}
		if json.Unmarshal(stored, &fresh) == nil {
			clear(document)
			maps.Copy(document, fresh)
		}
	}
}
