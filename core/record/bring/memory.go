package bring

import (
	"slices"
	"sync"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
)

// Memory is of rows of one file that were read before: as long as a row says the same, over the same record, it
// comes to the same. It is safe for concurrent use; a nil one forgets at once.
type Memory struct {
	mu   sync.Mutex
	rows map[uint64]sheet.Applied
}

// Warm reports whether anything is remembered.
func (m *Memory) Warm() bool {
	if m == nil {
		return false
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	return len(m.rows) > 0
}

// apply lays a row over a record and what its client says for all. mark tells these apart from others.
func (m *Memory) apply(reader sheet.Reader, row table.Row, mark string, base, shared record.Record) sheet.Applied {
	work := func() sheet.Applied {
		a := reader.Apply(row, base)
		a.Record = record.Settle(a.Record, shared)
		return a
	}
	if m == nil {
		return work()
	}
	print := reader.Print(row, mark)
	m.mu.Lock()
	a, known := m.rows[print]
	m.mu.Unlock()
	if !known {
		a = work()
		m.mu.Lock()
		if m.rows == nil {
			m.rows = map[uint64]sheet.Applied{}
		}
		m.rows[print] = a
		m.mu.Unlock()
	}
	a.Readings, a.Problems = slices.Clone(a.Readings), slices.Clone(a.Problems) // which are added to
	return a
}
