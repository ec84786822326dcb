package match

import (
	"encoding/csv"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

var (
	renew    = flag.Bool("renew", false, "write testdata/pairs.csv anew")
	mistakes = flag.Bool("mistakes", false, "list the pairs that are judged wrongly")
)

// pair is two descriptions, and whether they are of one business.
type pair struct {
	kind string // why they are alike, or not
	same bool
	a, b Business
}

var columns = []string{
	"kind",
	"same",
	"name",
	"legal_name",
	"former",
	"street",
	"unit",
	"locality",
	"region",
	"postal_code",
	"country",
	"phone",
	"website",
	"lat",
	"lng",
}

func (b Business) row() []string {
	pin := []string{"", ""}
	if b.Pin != nil {
		pin = []string{fmt.Sprintf("%.5f", b.Pin.Latitude), fmt.Sprintf("%.5f", b.Pin.Longitude)}
	}
	a := b.Address
	return append(
		[]string{
			b.Name,
			b.LegalName,
			strings.Join(b.Former, "|"),
			a.Street,
			a.Unit,
			a.Locality,
			a.Region,
			a.PostalCode,
			a.Country,
			strings.Join(b.Phones, "|"),
			b.Website,
		},
		pin...)
}

func businessOf(row []string) Business {
	b := Business{
		Name:      row[0],
		LegalName: row[1],
		Website:   row[10],
		Address:   address.Address{Street: row[3], Unit: row[4], Locality: row[5], Region: row[6], PostalCode: row[7], Country: row[8]},
	}
	if row[2] != "" {
		b.Former = strings.Split(row[2], "|")
	}
	if row[9] != "" {
		b.Phones = strings.Split(row[9], "|")
	}
	lat, err := strconv.ParseFloat(row[11], 64)
	lng, err2 := strconv.ParseFloat(row[12], 64)
	if err == nil && err2 == nil {
		b.Pin = &record.Pin{Latitude: lat, Longitude: lng}
	}
	return b
}

// readPairs reads a labelled set: two rows a pair, both with its kind and label.
func readPairs(t testing.TB, name string) []pair {
	t.Helper()
	f, err := os.Open("testdata/" + name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	var out []pair
	for i := 1; i+1 < len(rows); i += 2 {
		a, b := rows[i], rows[i+1]
		if a[0] != b[0] || a[1] != b[1] {
			t.Fatalf("%s, line %d: the rows of a pair differ in kind or label", name, i+1)
		}
		out = append(out, pair{a[0], a[1] == "yes", businessOf(a[2:]), businessOf(b[2:])})
	}
	return out
}

func writePairs(t *testing.T, name string, all []pair) {
	t.Helper()
	f, err := os.Create("testdata/" + name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	w := csv.NewWriter(f)
	rows := [][]string{columns}
	for _, p := range all {
		label := map[bool]string{true: "yes", false: "no"}[p.same]
		rows = append(rows, append([]string{p.kind, label}, p.a.row()...), append([]string{p.kind, label}, p.b.row()...))
	}
	if err := w.WriteAll(rows); err != nil {
		t.Fatal(err)
	}
}

// measure counts how well Compare does on labelled pairs, where same and probably mean
// yes.
func measure(t testing.TB, name string, all []pair) (precision, recall float64) {
	t.Helper()
	var right, wrong, missed int
	kinds := map[string][2]int{}
	for _, p := range all {
		r := Compare(p.a, p.b)
		yes := r.Verdict == SameBusiness || r.Verdict == Probably
		count := kinds[p.kind]
		count[0]++
		switch {
		case yes && p.same:
			right++
		case yes:
			wrong++
		case p.same:
			missed++
		}
		if yes != p.same {
			count[1]++
			if *mistakes {
				t.Logf("%s, should be %v, is %s %.2f\n\t%v\n\t%v\n\t%s", p.kind, p.same, r.Verdict, r.Score, p.a.row(), p.b.row(), strings.Join(r.Reasons, " "))
			}
		}
		kinds[p.kind] = count
	}
	precision, recall = float64(right)/float64(right+wrong), float64(right)/float64(right+missed)
	t.Logf("%s: %d pairs, precision %.4f, recall %.4f", name, len(all), precision, recall)
	var names []string
	for k := range kinds {
		names = append(names, k)
	}
	slices.Sort(names)
	for _, k := range names {
		t.Logf("  %-22s %4d pairs, %3d mistakes", k, kinds[k][0], kinds[k][1])
	}
	return precision, recall
}

// The labelled set, a part made by the generator and a part by hand, is judged right.
// Another set, of other chance, is judged as well, so that nothing has been learnt by
// heart.
func TestLabelledPairs(t *testing.T) {
	made := generated(1, 3500)
	if *renew {
		writePairs(t, "pairs.csv", made)
	}
	kept := readPairs(t, "pairs.csv")
	if len(kept) < 3000 || !slices.EqualFunc(kept, made, func(a, b pair) bool {
		return a.kind == b.kind && a.same == b.same && slices.Equal(a.a.row(), b.a.row()) && slices.Equal(a.b.row(), b.b.row())
	}) {
		t.Errorf("testdata/pairs.csv has %d pairs and is not what the generator makes; run this test with -renew", len(kept))
	}
	for name, all := range map[string][]pair{"pairs.csv": kept, "by_hand.csv": readPairs(t, "by_hand.csv"), "others": generated(rand.Uint64(), 3500)} {
		precision, recall := measure(t, name, all)
		fmt.Printf("same business, %s: %d pairs, precision %.4f, recall %.4f\n", name, len(all), precision, recall)
		if precision < 0.98 || recall < 0.96 {
			t.Errorf("%s: precision %.4f, recall %.4f; 0.98 and 0.96 are wanted", name, precision, recall)
		}
	}
}

// The index finds nearly all that comparing with each would find.
func TestTheIndexMissesLittle(t *testing.T) {
	size := 1600
	if testing.Short() {
		size = 400
	}
	all := slices.DeleteFunc(generated(7, size), func(p pair) bool { return !p.same })
	others := make([]Business, len(all))
	for i, p := range all {
		others[i] = p.b
	}
	x := NewIndex(others)
	missed := 0
	for i, p := range all {
		if Compare(p.a, p.b).Score >= 0.5 && !slices.ContainsFunc(x.Find(p.a), func(f Found) bool { return f.At == i }) {
			missed++
		}
	}
	if missed*200 > len(all) {
		t.Errorf("%d of %d are not found", missed, len(all))
	}
	if found := x.Find(all[0].a); len(found) == 0 || !slices.IsSortedFunc(found, func(a, b Found) int { return int(1000 * (b.Score - a.Score)) }) {
		t.Errorf("%+v", found)
	}
}

// What is told apart at little cost is told apart in full: the bound is never less than the evidence.
func TestTheBoundIsNeverTooLow(t *testing.T) {
	for _, p := range append(generated(rand.Uint64(), 2800), readPairs(t, "by_hand.csv")...) {
		if r := Compare(p.a, p.b); r.Score >= 0.5 && traitsOf(p.a).most(traitsOf(p.b)) < 0 {
			t.Errorf("%s: %.2f is passed over: %v %v", p.kind, r.Score, p.a.row(), p.b.row())
		}
	}
}

// One location among a hundred thousand.
func BenchmarkFindAmongMany(b *testing.B) {
	all := many(100_000)
	x := NewIndex(all)
	r := rand.New(rand.NewPCG(5, 5))
	b.ResetTimer()
	for b.Loop() {
		x.Find(all[r.IntN(len(all))])
	}
}
