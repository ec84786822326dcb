package httpapi_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"io"
	"mime/multipart"
	"net/http"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// upload sends a file in a form, wants a status, and decodes what is answered.
func (c *client) upload(status int, path, name string, data []byte, fields map[string]string, into any) {
	c.t.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	for key, value := range fields {
		rig.Must(c.t, w.WriteField(key, value))
	}
	part, err := w.CreateFormFile("file", name)
	rig.Must(c.t, err)
	_, err = part.Write(data)
	rig.Must(c.t, err)
	rig.Must(c.t, w.Close())
	req, err := http.NewRequest("POST", c.base+path, &body)
	rig.Must(c.t, err)
	req.Header.Set("Content-Type", w.FormDataContentType())
	c.send(status, req, into)
}

// bomb is a PNG of a few kilobytes that claims 100 million pixels.
func bomb() []byte {
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32([]byte("IHDR"), 10_000), 10_000)
	head = append(head, 8, 6, 0, 0, 0)
	out := binary.BigEndian.AppendUint32([]byte("\x89PNG\r\n\x1a\n"), 13)
	out = binary.BigEndian.AppendUint32(append(out, head...), crc32.ChecksumIEEE(head))
	return append(out, make([]byte, 3000)...)
}

func TestFilesThatAreRefused(t *testing.T) {
	r := rig.Alone(t)
	c := signedIn(t, r)
	path := "/api/photos?location=" + r.Add(t, rig.Shop("Minnow Bay")).Location.String()
	whole, err := photo.Encode(image.NewGray(image.Rect(0, 0, 800, 600)), photo.JPEG)
	rig.Must(t, err)
	large := append(bytes.Clone(whole), make([]byte, 60<<20)...)
	runtime.GC()

	// Memory is looked at all the while.
	var most uint64
	var watch sync.WaitGroup
	done := make(chan struct{})
	watch.Go(func() {
		var m runtime.MemStats
		for {
			select {
			case <-done:
				return
			case <-time.After(3 * time.Millisecond):
			}
			runtime.ReadMemStats(&m)
			most = max(most, m.HeapInuse)
		}
	})
	for name, file := range map[string]struct {
		data []byte
		says string
	}{
		"bomb.png":  {bomb(), "The picture has 10000 by 10000 pixels"},
		"hours.jpg": {[]byte("Open Tuesday to Saturday.\n"), "This is no picture that can be read"},
		"logo.svg":  {[]byte(`<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`), "may hold scripts"},
		"half.jpg":  {whole[:len(whole)/2], "cut short or damaged"},
		"large.jpg": {large, "larger than 40 MB"},
	} {
		began := time.Now()
		var p api.Problem
		status := http.StatusUnprocessableEntity
		if name == "large.jpg" {
			status = http.StatusRequestEntityTooLarge
		}
		c.upload(status, path, name, file.data, map[string]string{"group": "exterior"}, &p)
		if !strings.Contains(p.Detail, file.says) || (*p.Fields)[0].Path != "file" {
			t.Errorf("%s: %+v", name, p)
		}
		t.Logf("%s is refused after %v", name, time.Since(began).Round(time.Millisecond))
	}
	close(done)
	watch.Wait()
	// The test itself holds the file of 60 MB, and the form with it.
	if most>>20 > 300 {
		t.Errorf("memory went up to %d MB", most>>20)
	}
	t.Logf("at most %d MB of memory, %d of it the test's own", most>>20, 2*len(large)>>20)
	var p api.Problem
	if c.upload(422, path, "x", nil, map[string]string{"group": strings.Repeat("x", 5000)}, &p); !strings.Contains(p.Detail, "more than a form may") {
		t.Errorf("%+v", p)
	}
}

func TestPhotosOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	at := r.Add(t, rig.Shop("Minnow Bay")).Location
	path := "/api/photos?location=" + at.String()
	img := image.NewRGBA(image.Rect(0, 0, 500, 400))
	for i := range img.Pix {
		img.Pix[i] = byte(i / 7 % 256)
	}
	data, err := photo.Encode(img, photo.PNG)
	rig.Must(t, err)
	var p api.Photo
	c.upload(201, path, "inside.png", data, map[string]string{"group": "interior"}, &p)
	if p.Width != 500 || len(p.Fits) != 1 || p.Fits[0].Label != "Gallery" || p.Format != "png" {
		t.Fatalf("%+v", p)
	}
	var list []api.Photo
	c.want(200, "PUT", "/api/photos/"+p.Id.String(), api.PhotoFacts{Group: "interior", Caption: "The shelves", Focus: p.Focus}, &p)
	if c.want(200, "GET", path, nil, &list); len(list) != 1 || list[0].Caption != "The shelves" {
		t.Errorf("%+v", list)
	}
	c.want(204, "PUT", "/api/photos/order?location="+at.String(), []any{p.Id}, nil)
	for copy, kind := range map[string]string{"original": "image/png", "screen": "image/jpeg", "small": "image/jpeg"} {
		resp, err := c.http.Get(fmt.Sprintf("%s/api/photos/%s/%s", c.base, p.Id, copy))
		rig.Must(t, err)
		resp.Body.Close()
		if resp.StatusCode != 200 || resp.Header.Get("Content-Type") != kind || !strings.Contains(resp.Header.Get("Cache-Control"), "private") ||
			resp.Header.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s: %d %v", copy, resp.StatusCode, resp.Header)
		}
	}
	resp, err := c.http.Get(c.base + "/api/locations/" + at.String() + "/photos.zip")
	rig.Must(t, err)
	archive, err := io.ReadAll(resp.Body)
	rig.Must(t, err)
	resp.Body.Close()
	if resp.StatusCode != 200 || !bytes.HasPrefix(archive, []byte("PK")) || resp.Header.Get("Content-Type") != "application/zip" {
		t.Errorf("the archive answers %d", resp.StatusCode)
	}
	c.want(204, "DELETE", "/api/photos/"+p.Id.String(), nil, nil)
	c.problem(409, "GET", "/api/locations/"+at.String()+"/photos.zip", nil)
	c.want(204, "POST", "/api/photos/"+p.Id.String()+"/restore", nil, nil)
	c.problem(422, "GET", "/api/photos", nil)
	c.problem(404, "GET", "/api/photos/"+p.Id.String()+"/huge", nil)
}

func TestPapersOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	path := "/api/papers?location=" + r.Add(t, rig.Shop("Minnow Bay")).Location.String()
	bill := paint.Letter("Sound County Electric", "Utility bill", "18 Tern Street")
	var p api.Paper
	c.upload(201, path, "bill.pdf", bill, nil, &p)
	if p.Kind != "utility_bill" || p.Shared || !strings.Contains(p.Words, "18 Tern Street") {
		t.Errorf("%+v", p)
	}
	at := "/api/papers/" + p.Id.String()
	c.want(200, "PUT", at, api.PaperFacts{Kind: "phone_bill", Issued: "2026-10-31"}, &p)
	var list []api.Paper
	if c.want(200, "GET", path, nil, &list); len(list) != 1 || list[0].Kind != "phone_bill" || list[0].Issued != "2026-10-31" {
		t.Errorf("%+v", list)
	}
	resp, err := c.http.Get(c.base + at + "/file")
	rig.Must(t, err)
	kept, err := io.ReadAll(resp.Body)
	rig.Must(t, err)
	resp.Body.Close()
	// A PDF from elsewhere is kept, never opened within our own pages.
	if !bytes.Equal(kept, bill) || resp.Header.Get("Content-Disposition") != "attachment; filename=bill.pdf" ||
		resp.Header.Get("Content-Type") != "application/octet-stream" {
		t.Errorf("%v", resp.Header)
	}
	c.want(204, "DELETE", at, nil, nil)
	c.problem(404, "PUT", at, api.PaperFacts{Kind: "lease"})
	c.want(204, "POST", at+"/restore", nil, nil)
	c.problem(422, "PUT", at, api.PaperFacts{Kind: "novel"})
	c.problem(422, "GET", "/api/papers", nil)
	var no api.Problem
	if c.upload(422, path, "notes.pdf", []byte("notes"), nil, &no); !strings.Contains(no.Detail, "Papers are PDF") {
		t.Errorf("%+v", no)
	}
}
