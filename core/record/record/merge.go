package record

import (
	"encoding/json"
	"reflect"
	"slices"
)

// Conflict is a fact that two people changed to different things.
type Conflict struct {
	Path   string
	Title  string
	Mine   string
	Theirs string
}

// Merge lays what one person changed (from base to mine) over what another did
// (from base to theirs), fact by fact. Where both changed the same fact to
// different things, mine stands in the record, and the conflict is told.
func Merge(base, mine, theirs Record) (Record, []Conflict) {
	b, m, t := tree(base), tree(mine), tree(theirs)
	var conflicts []Conflict
	for _, f := range facts {
		inB, key := at(b, f.path)
		inM, _ := at(m, f.path)
		inT, _ := at(t, f.path)
		switch {
		case f.path == "own":
			inM[key] = mergedOwn(base.Own, mine.Own, theirs.Own)
		case reflect.DeepEqual(inM[key], inT[key]), reflect.DeepEqual(inT[key], inB[key]):
		case reflect.DeepEqual(inM[key], inB[key]):
			inM[key] = inT[key]
		default:
			conflicts = append(conflicts, Conflict{f.path, f.title, said(f.path, inM[key]), said(f.path, inT[key])})
		}
	}
	return fromTree(m), conflicts
}

// mergedOwn takes over what either changed of which facts are the location's own.
func mergedOwn(base, mine, theirs []string) []string {
	out := []string{}
	for _, f := range inheritable {
		b, m, t := slices.Contains(base, f.path), slices.Contains(mine, f.path), slices.Contains(theirs, f.path)
		if m != b && m || m == b && t {
			out = append(out, f.path)
		}
	}
	return out
}

func fromTree(t map[string]any) Record {
	data, err := json.Marshal(t)
	if err != nil {
		panic(err) // it was a record's JSON
	}
	var out Record
	if err := json.Unmarshal(data, &out); err != nil {
		panic(err)
	}
	return out
}
