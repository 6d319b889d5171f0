package api

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
)

// secrets are the fields that are taken as they are typed, to the letter.
var secrets = []string{"Password", "New", "Old", "Secret", "Code"}

// longest is the most characters that any text has, whatever its kind allows.
const longest = 20_000

// tidy takes out of every text of an input what turns, breaks or hides text, and
// refuses one that is longer than any text may be.
func tidy(input any) error { return tidied(reflect.ValueOf(input), "") }

func tidied(v reflect.Value, name string) error {
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			return nil
		}
		return tidied(v.Elem(), name)
	case reflect.Struct:
		for i := range v.NumField() {
			field := v.Type().Field(i)
			if !field.IsExported() || slices.Contains(secrets, field.Name) {
				continue
			}
			if err := tidied(v.Field(i), strings.Split(field.Tag.Get("json"), ",")[0]); err != nil {
				return err
			}
		}
	case reflect.Slice, reflect.Array:
		if v.Type().Elem().Kind() == reflect.Uint8 {
			return nil // a file
		}
		for i := range v.Len() {
			if err := tidied(v.Index(i), name); err != nil {
				return err
			}
		}
	case reflect.Map:
		return tidiedMap(v)
	case reflect.String:
		return tidiedText(v, name)
	case reflect.Int32:
		if on, is := v.Interface().(day.Day); is {
			return refusal.As(refusal.Invalid, name, on.Within())
		}
	}
	return nil
}

func tidiedMap(v reflect.Value) error {
	if v.Type().Elem().Kind() != reflect.String {
		return nil
	}
	for _, key := range v.MapKeys() {
		value := reflect.New(v.Type().Elem()).Elem()
		value.Set(v.MapIndex(key))
		if err := tidiedText(value, fmt.Sprint(key.Interface())); err != nil {
			return err
		}
		v.SetMapIndex(key, value)
	}
	return nil
}

func tidiedText(v reflect.Value, name string) error {
	text := v.String()
	if len([]rune(text)) > longest {
		return &refusal.Refusal{Field: name, Sentence: fmt.Sprintf("This text has more than %d characters: shorten it.", longest)}
	}
	if v.CanSet() {
		v.SetString(safetext.Lines(text))
	}
	return nil
}
