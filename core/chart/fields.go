package chart

import (
	"reflect"
	"slices"
	"strings"
	"sync"
)

// role is what the words in a field of a document are.
type role int

const (
	mapped    role = iota // a column that stands along an axis, dresses marks, or divides rows
	carded                // a column that only the card of a row shows
	labelled              // a column whose values labels or panels write
	ordering              // a column by which groups are ordered
	mixed                 // a column of this table or of another dataset, which the field beside it names
	condition             // an expression over columns
	groups                // names of groups
	wording               // what a person says in their own words, or writes as a formula of x
	choice                // one of a list
	colours               // colours and characters
)

// field is a row of the table of all fields of a document that hold words: where it stands, as the document is written in
// JSON, and what it holds. A list stands for all of its members.
type field struct {
	path string
	role role
}

// fields lists them in the order in which a sentence names them. Which columns a chart uses follows from it; a field that
// is missing here is found by a test.
var fields = []field{
	{"y.column", mapped},
	{"also_y", mapped},
	{"x.column", mapped},
	{"rows.take_out", mapped},
	{"colour.column", mapped},
	{"colour.paired", mapped},
	{"size.column", mapped},
	{"shape.column", mapped},
	{"layers.by", mapped},
	{"layers.fit.each", mapped},
	{"rows.step", mapped},
	{"rows.follow", mapped},
	{"card.heading", carded},
	{"card.shows", carded},
	{"label.with", labelled},
	{"label.by", labelled},
	{"panels.by", labelled},
	{"rows.where", condition},
	{"order.column", ordering},
	{"order.by", ordering},
	{"also.y", mixed},
	{"also.x", mixed},
	{"also.table", wording},
	{"also.name", wording},
	{"manner.key_order", groups},
	{"manner.in_front", groups},
	{"manner.title", wording},
	{"manner.subtitle", wording},
	{"manner.note", wording},
	{"function.formula", wording},
	{"layers.reference.formula", wording},
	{"layers.reference.name", wording},
	{"scales.x.title", wording},
	{"scales.y.title", wording},
	{"scales.x.unit", wording},
	{"scales.y.unit", wording},
	{"scales.x.symbol", wording},
	{"scales.y.symbol", wording},
	{"y.of", choice},
	{"y.as", choice},
	{"x.of", choice},
	{"x.as", choice},
	{"order.of", choice},
	{"layers.ways", choice},
	{"manner.jitter", choice},
	{"panels.own", choice},
	{"layers.mark", choice},
	{"layers.fit.kind", choice},
	{"layers.fit.band.kind", choice},
	{"layers.reference.axis", choice},
	{"layers.reference.of", choice},
	{"scales.x.scale", choice},
	{"scales.y.scale", choice},
	{"scales.x.form", choice},
	{"scales.y.form", choice},
	{"also.as", choice},
	{"colour.gradient.using", choice},
	{"manner.look", choice},
	{"manner.grid", choice},
	{"manner.text", choice},
	{"manner.key", choice},
	{"manner.overlap", choice},
	{"manner.weight", choice},
	{"manner.guides", choice},
	{"manner.letters.of", choice},
	{"manner.letters.weight", choice},
	{"manner.axis_lines.colour", colours},
	{"manner.axis_lines.dash", choice},
	{"manner.palette", colours},
	{"manner.outline.colour", colours},
	{"manner.fixed.colour", colours},
	{"manner.fixed.shape", colours},
	{"layers.fit.stroke.colour", colours},
	{"layers.reference.stroke.colour", colours},
	{"also.stroke.colour", colours},
	{"layers.fit.stroke.dash", choice},
	{"layers.reference.stroke.dash", choice},
	{"also.stroke.dash", choice},
}

// said lists what the fields of some roles say, in the order of the table.
func (d *Document) said(roles ...role) (words []string) {
	for _, f := range fields {
		if d.Function != nil && (f.path == "x.column" || f.path == "y.column") { // of a function these are columns of no table
			continue
		}
		if slices.Contains(roles, f.role) {
			words = valuesAt(reflect.ValueOf(d).Elem(), strings.Split(f.path, "."), words)
		}
	}
	return words
}

// valuesAt adds the words at a path below a value.
func valuesAt(v reflect.Value, path, words []string) []string {
	switch {
	case v.Kind() == reflect.Pointer:
		if v.IsNil() {
			return words
		}
		return valuesAt(v.Elem(), path, words)
	case v.Kind() == reflect.Slice:
		for i := range v.Len() {
			words = valuesAt(v.Index(i), path, words)
		}
		return words
	case len(path) == 0:
		return append(words, v.String())
	}
	if i := slices.Index(jsonNames(v.Type()), path[0]); i >= 0 {
		return valuesAt(v.Field(i), path[1:], words)
	}
	return words
}

// namesOf holds what the fields of structs are called in JSON, by their types.
var namesOf sync.Map

func jsonNames(of reflect.Type) []string {
	if names, known := namesOf.Load(of); known {
		return names.([]string)
	}
	names := make([]string, of.NumField())
	for i := range names {
		names[i] = jsonName(of.Field(i))
	}
	namesOf.Store(of, names)
	return names
}

// jsonName is what a field is called in JSON.
func jsonName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	return name
}

// Clone copies the document so that the copy can be changed: everything that it points at is copied too.
func (d *Document) Clone() *Document {
	return deepCopy(reflect.ValueOf(d)).Interface().(*Document)
}

func deepCopy(v reflect.Value) reflect.Value {
	switch v.Kind() {
	case reflect.Pointer:
		if v.IsNil() {
			return v
		}
		out := reflect.New(v.Type().Elem())
		out.Elem().Set(deepCopy(v.Elem()))
		return out
	case reflect.Slice:
		if v.IsNil() {
			return v
		}
		out := reflect.MakeSlice(v.Type(), v.Len(), v.Len())
		for i := range v.Len() {
			out.Index(i).Set(deepCopy(v.Index(i)))
		}
		return out
	case reflect.Struct:
		out := reflect.New(v.Type()).Elem()
		out.Set(v)
		for i := range v.NumField() {
			switch v.Field(i).Kind() {
			case reflect.Pointer, reflect.Slice, reflect.Struct:
				out.Field(i).Set(deepCopy(v.Field(i)))
			}
		}
		return out
	}
	return v
}

// copyFields copies the fields of one struct that another has too, by their names in JSON, with all that they point at.
func copyFields(to, from reflect.Value) {
	for i := range to.NumField() {
		for j := range from.NumField() {
			if jsonName(to.Type().Field(i)) == jsonName(from.Type().Field(j)) {
				to.Field(i).Set(deepCopy(from.Field(j)))
			}
		}
	}
}
