// Package bounded reads what others have made (photos, papers, films, spreadsheets) in processes of their own, each bounded
// in memory and time, so that a file that breaks whatever reads it breaks nothing else. The processes are this program
// again: a program that reads so calls Serve first of all.
package bounded

import (
	"bytes"
	"context"
	"encoding/gob"
	"errors"
	"fmt"
	"time"
)

// Limits are what reading one thing may take.
type Limits struct {
	Time   time.Duration // by the wall; a process has one core, so that it bounds its computing too
	Memory int64         // bytes, of the whole process
	Long   bool          // it may take minutes: such things wait for each other, and nothing else for them
}

// Usual is what reading a file may take.
var Usual = Limits{Time: time.Minute, Memory: 1500 << 20}

// ErrBounds is that something took more than it may, or broke what reads it.
var ErrBounds = errors.New("it could not be read within its bounds of memory and time")

// known are what a process can read, by name.
var known = map[string]func(in []byte) ([]byte, error){}

// Of is a function that runs in a process of its own. It is to be made while the program begins, under a name of its own.
// What goes in and comes out is handed over as package gob does. An error keeps its type where that was told to Refusals;
// where the process had to be ended, the error is ErrBounds.
func Of[In, Out any](name string, most Limits, read func(In) (Out, error)) func(context.Context, In) (Out, error) {
	if known[name] != nil {
		panic("two are called " + name)
	}
	known[name] = func(data []byte) ([]byte, error) {
		var in In
		if err := gob.NewDecoder(bytes.NewReader(data)).Decode(&in); err != nil {
			return nil, err
		}
		out, err := read(in)
		if err != nil {
			return nil, err
		}
		return encoded(out)
	}
	return func(ctx context.Context, in In) (out Out, err error) {
		if !serving.Load() {
			return read(in) // the program has no processes of its own, as tests of one package
		}
		data, err := encoded(in)
		if err != nil {
			return out, err
		}
		if data, err = ask(ctx, name, data, most); err != nil {
			return out, err
		}
		return out, gob.NewDecoder(bytes.NewReader(data)).Decode(&out)
	}
}

// Refusals tells the types of errors that come over as they are. Others come as their text.
func Refusals(errs ...error) {
	for _, err := range errs {
		gob.Register(err)
	}
}

func encoded(v any) ([]byte, error) {
	var b bytes.Buffer
	err := gob.NewEncoder(&b).Encode(v)
	return b.Bytes(), err
}

// question and answer are what goes to a process and comes back.
type question struct {
	Name string
	Data []byte
}

type answer struct {
	Data    []byte
	Refusal refusal // nil: none
	Failed  string  // an error of no type that was told
}

// refusal is an error whose type was told.
type refusal interface{ Error() string }

// answered does what is asked. A panic is the end of the process, which whoever asks is told as ErrBounds.
func answered(q question) (a answer) {
	read := known[q.Name]
	if read == nil {
		return answer{Failed: fmt.Sprintf("%q is not known here", q.Name)}
	}
	data, err := read(q.Data)
	if err == nil {
		return answer{Data: data}
	}
	a.Refusal = err
	if _, wrong := encoded(a); wrong != nil {
		a = answer{Failed: err.Error()}
	}
	return a
}
