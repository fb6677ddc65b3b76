package chart

import (
	"reflect"
	"slices"
	"strings"
	"testing"
)

// worded lists the paths of all fields below a type that hold words.
func worded(of reflect.Type, path string) (paths []string) {
	switch of.Kind() {
	case reflect.Pointer, reflect.Slice:
		return worded(of.Elem(), path)
	case reflect.String:
		return []string{strings.TrimPrefix(path, ".")}
	case reflect.Struct:
		for i := range of.NumField() {
			paths = append(paths, worded(of.Field(i).Type, path+"."+jsonName(of.Field(i)))...)
		}
	}
	return paths
}

// TestEveryFieldStandsInTheTable holds the table of fields to the document itself: a field that somebody adds must say what
// it holds, and a row that is taken out is missed.
func TestEveryFieldStandsInTheTable(t *testing.T) {
	missing := func(table []field) (list []string) {
		for _, path := range worded(reflect.TypeFor[Document](), "") {
			if !slices.ContainsFunc(table, func(f field) bool { return f.path == path }) {
				list = append(list, path)
			}
		}
		return list
	}
	if list := missing(fields); list != nil {
		t.Errorf("these fields hold words, and nobody says of what: %v", list)
	}
	for i, f := range fields {
		without := slices.Delete(slices.Clone(fields), i, i+1)
		if list := missing(without); len(list) != 1 || list[0] != f.path {
			t.Errorf("without its row, %s is not missed, or stands there twice: %v", f.path, list)
		}
	}
}

// filled gives every field below a value something of its own, so that what is lost or shared is seen.
func filled(v reflect.Value, n *int) {
	*n++
	switch v.Kind() {
	case reflect.Pointer:
		v.Set(reflect.New(v.Type().Elem()))
		filled(v.Elem(), n)
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 2, 2))
		for i := range 2 {
			filled(v.Index(i), n)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			filled(v.Field(i), n)
		}
	case reflect.String:
		v.SetString("w" + strings.Repeat("x", *n))
	case reflect.Float64:
		v.SetFloat(float64(*n))
	case reflect.Int:
		v.SetInt(int64(*n))
	case reflect.Bool:
		v.SetBool(true)
	}
}

// shares reports whether two values point at the same memory anywhere.
func shares(a, b reflect.Value) bool {
	switch a.Kind() {
	case reflect.Pointer:
		return !a.IsNil() && (a.Pointer() == b.Pointer() || shares(a.Elem(), b.Elem()))
	case reflect.Slice:
		if a.Len() > 0 && a.Pointer() == b.Pointer() {
			return true
		}
		for i := range a.Len() {
			if shares(a.Index(i), b.Index(i)) {
				return true
			}
		}
	case reflect.Struct:
		for i := range a.NumField() {
			if shares(a.Field(i), b.Field(i)) {
				return true
			}
		}
	}
	return false
}

// TestCopiesHoldEverythingAndShareNothing fills every field that there is: a copy has all of them, and a style all of its
// own, in both directions.
func TestCopiesHoldEverythingAndShareNothing(t *testing.T) {
	d, n := &Document{}, 0
	filled(reflect.ValueOf(d).Elem(), &n)
	copied := d.Clone()
	if !reflect.DeepEqual(d, copied) || shares(reflect.ValueOf(d), reflect.ValueOf(copied)) {
		t.Error("a copy lacks something, or shares memory")
	}
	style := d.Style()
	back := (&Document{}).Styled(style)
	if !reflect.DeepEqual(back.Style(), style) || reflect.ValueOf(style).IsZero() ||
		shares(reflect.ValueOf(style), reflect.ValueOf(d.Style())) {
		t.Error("a style is lost on its way, or shares memory")
	}
	if len(StyleSlots) != reflect.TypeFor[Style]().NumField() || !slices.Contains(StyleSlots, "paper") {
		t.Errorf("the words of a style: %v", StyleSlots)
	}
}
