package httpapi

import "testing"

// What the gate lets through has been read, and is no deeper than it may be.
func FuzzBody(f *testing.F) {
	k, err := readContract()
	if err != nil {
		f.Fatal(err)
	}
	op := k["POST /api/session"]
	f.Add([]byte(`{"email":"ines@agency.example","password":"x"}`))
	f.Add([]byte(`{"email":["\u0000"],"password":{}}`))
	f.Add([]byte(`[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[]`))
	f.Fuzz(func(t *testing.T, data []byte) {
		_, why, faults := op.faults(data)
		if why == "" && len(faults) == 0 && (depth(data) > mostDepth || len(data) == 0) {
			t.Errorf("%q is let through", data)
		}
	})
}
