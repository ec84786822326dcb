package record

import (
	"encoding/json"
	"math/rand/v2"
	"reflect"
	"testing"
)

// scribble fills a value at random, with texts as people type them.
func scribble(r *rand.Rand, v reflect.Value) {
	texts := []string{
		"",
		" a ",
		"https://a.example ",
		"Sound\r\nwave",
		"2026-12-31",
		"12,50",
		"x@y.example",
		"360 555 0142",
		"bicycle repair",
		"US",
		"wa",
		"Mo-Fr 9:00-17:00",
		"cash",
		"1",
		"2-10",
	}
	switch v.Kind() {
	case reflect.String:
		v.SetString(texts[r.IntN(len(texts))])
	case reflect.Bool:
		v.SetBool(r.IntN(2) == 0)
	case reflect.Int:
		v.SetInt(int64(r.IntN(500) - 100))
	case reflect.Float64:
		v.SetFloat(200 * (r.Float64() - .5))
	case reflect.Slice:
		s := reflect.MakeSlice(v.Type(), r.IntN(4), 4)
		for i := range s.Len() {
			scribble(r, s.Index(i))
		}
		v.Set(s)
	case reflect.Map:
		m := reflect.MakeMap(v.Type())
		for _, key := range []string{"delivery", "unheard_of"}[:r.IntN(3)] {
			m.SetMapIndex(reflect.ValueOf(key), reflect.ValueOf(r.IntN(2) == 0))
		}
		v.Set(m)
	case reflect.Pointer:
		if r.IntN(2) == 0 {
			v.Set(reflect.New(v.Type().Elem()))
			scribble(r, v.Elem())
		}
	case reflect.Struct:
		for i := range v.NumField() {
			scribble(r, v.Field(i))
		}
	}
}

// Whatever is typed: tidying twice is tidying once, what is tidied has no list
// that is null, and every problem names a fact and says something.
func TestNormalIsAFixedPoint(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	for range 1500 {
		var in Record
		scribble(r, reflect.ValueOf(&in).Elem())
		once, problems := Normal(in)
		for _, p := range problems {
			if p.Path == "" || p.Message == "" {
				t.Fatalf("a problem says nothing: %+v", p)
			}
		}
		twice, again := Normal(once)
		if len(problems) == 0 && (len(again) != 0 || !reflect.DeepEqual(once, twice)) {
			t.Fatalf("%+v\nbecomes %+v, %v", once, Changes(once, twice), again)
		}
		data, err := json.Marshal(once)
		if err != nil {
			t.Fatal(err)
		}
		var plain map[string]any
		if err := json.Unmarshal(data, &plain); err != nil {
			t.Fatal(err)
		}
		for key, v := range plain {
			if v == nil && key != "pin" {
				t.Fatalf("%s is null", key)
			}
		}
		var back Record
		if err := json.Unmarshal(data, &back); err != nil || !reflect.DeepEqual(back, once) {
			t.Fatalf("through JSON it becomes %+v, %v", Changes(once, back), err)
		}
	}
}
