package clockwork_test

import (
	"bytes"
	"context"
	"strings"
	"testing"
	"testing/fstest"

	"uvent/core/record/sheet"
	"uvent/demo/paint"
	"uvent/desk/clockwork"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/e2e/rig"
	"uvent/reach"
	"uvent/store"
	"uvent/store/storetest"
)

// A backup that is restored into an empty server is the same: the same rows, the same
// exports, the same log, which still verifies; and a row that is changed then is found.
func TestBackupAndRestore(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	here := r.Add(t, rig.Shop("Minnow Bay"))
	r.Held(t, here)
	rig.Must(t, r.Desk.Listings.SetOwn(ctx, who, here, "name", "Spokeshave Wheels", "the sign there is narrow"))
	scope := ledger.Scope{Location: &here.Location}
	_, err := r.Desk.Files.AddPhoto(ctx, who, scope, files.PhotoFacts{Group: "cover"}, "cover.jpg", rig.Boxes(t, 1400, 1400, 3))
	rig.Must(t, err)
	_, err = r.Desk.Files.AddPaper(ctx, who, scope, "bill.pdf", paint.Letter("Bill", "Spokeshave Cycle Works"))
	rig.Must(t, err)
	_, _, err = r.Desk.People.MakeKey(ctx, r.Who, rig.Password, "Comma, \"quote\"\nand a line", "see", 0)
	rig.Must(t, err)
	var all int
	r.Eventually(t, func() bool {
		n, _, err := r.Desk.Ledger.VerifyLog(ctx)
		rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from event").Scan(&all))
		return err == nil && n == all
	})
	var file bytes.Buffer
	var far store.Progress
	before, err := r.Store.Backup(ctx, &file, fstest.MapFS{"pierbook.yaml": {Data: []byte("id: pierbook")}, "notes.txt": {}}, func(p store.Progress) {
		if p.Share < far.Share || p.Tables < far.Tables || p.Bytes <= far.Bytes {
			t.Errorf("it was at %+v, and is at %+v", far, p)
		}
		far = p
	})
	rig.Must(t, err)

	s, err := store.Open(ctx, storetest.URL(t))
	rig.Must(t, err)
	t.Cleanup(s.Close)
	// A file that is cut short or is another leaves nothing behind.
	for _, bad := range [][]byte{nil, file.Bytes()[:file.Len()/2], []byte("PK\x03\x04 no")} {
		if _, err := s.Restore(ctx, bytes.NewReader(bad), int64(len(bad)), nil); err == nil || !strings.Contains(err.Error(), "it is no backup") {
			t.Errorf("%d bytes are restored: %v", len(bad), err)
		}
	}
	if _, err := s.Restore(ctx, bytes.NewReader(file.Bytes()), int64(file.Len()), nil); err == nil || !strings.Contains(err.Error(), "1 rulebooks of a folder") {
		t.Errorf("restored without a folder: %v", err)
	}
	folder := map[string]string{}
	put := func(name string, data []byte) error { folder[name] = string(data); return nil }
	restored, err := s.Restore(ctx, bytes.NewReader(file.Bytes()), int64(file.Len()), put)
	if len(folder) != 1 || folder["pierbook.yaml"] != "id: pierbook" {
		t.Errorf("the folder has %v", folder)
	}
	if err != nil || len(restored.Tables) < 20 {
		t.Fatalf("%+v, %v", restored, err)
	}
	if _, err := s.Restore(ctx, bytes.NewReader(file.Bytes()), int64(file.Len()), put); err == nil || !strings.Contains(err.Error(), "not empty") {
		t.Errorf("restored twice: %v", err)
	}
	var again bytes.Buffer
	if far.Tables >= far.Of || far.Of != len(before.Tables) || far.Share < 0.8 || far.Share > 1 {
		t.Errorf("at last it was at %+v", far)
	}
	after, err := s.Backup(ctx, &again, nil, func(store.Progress) {})
	rig.Must(t, err)
	for i, b := range before.Tables {
		if a := after.Tables[i]; a != b {
			t.Errorf("%s had %d rows, and has %d, or others", b.Name, b.Rows, a.Rows)
		}
	}
	other, err := clockwork.New(clockwork.Parts{Store: s, Reach: reach.New("", ""), Clock: reach.RealClock{}, Books: r.Desk.Shelf.Books(), Log: r.Quiet})
	rig.Must(t, err)
	export := func(d *clockwork.Desk) string {
		var out bytes.Buffer
		rig.Must(t, d.Records.Export(context.Background(), ledger.Scope{}, sheet.Write, &out))
		rig.Must(t, d.Listings.OwnCSV(context.Background(), &out, ledger.Scope{}))
		return out.String()
	}
	if was, is := export(r.Desk), export(other); was != is || !strings.Contains(is, "Minnow Bay") || !strings.Contains(is, "Spokeshave Wheels") {
		t.Errorf("exported before:\n%s\nand after:\n%s", was, is)
	}
	if n, faults, err := other.Ledger.VerifyLog(ctx); err != nil || len(faults) > 0 || n != all {
		t.Errorf("%d events of %d, %v, %v", n, all, faults, err)
	}
	// What is counted goes on.
	if _, err := other.Records.AddClient(ctx, who, records.ClientFacts{Name: "Quay Wash"}); err != nil {
		t.Error(err)
	}
	owner := storetest.Owner(t, s)
	for _, sql := range []string{"alter table event disable trigger event_is_final", "update event set actor = 'Nobody' where id = 2"} {
		_, err = owner.Exec(ctx, sql)
		rig.Must(t, err)
	}
	if _, faults, err := other.Ledger.VerifyLog(ctx); err != nil || len(faults) != 1 || faults[0].Event != 2 {
		t.Errorf("a changed row: %v, %v", faults, err)
	}
}
