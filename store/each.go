package store

// One makes of a row that a query gave what a room keeps of it: store.One(of)(q.Row(ctx)).
func One[Row, Own any](of func(Row) Own) func(Row, error) (Own, error) {
	return func(r Row, err error) (Own, error) { return of(r), err }
}

// Each is One for a query of many rows.
func Each[Row, Own any](of func(Row) Own) func([]Row, error) ([]Own, error) {
	return func(rows []Row, err error) ([]Own, error) {
		out := make([]Own, len(rows))
		for i, r := range rows {
			out[i] = of(r)
		}
		return out, err
	}
}
