module uvent

go 1.26.0

require (
	github.com/goccy/go-yaml v1.19.2
	github.com/google/uuid v1.6.0
	github.com/jackc/pgx/v5 v5.12.0
	github.com/nyaruka/phonenumbers v1.8.1
	github.com/rickar/cal/v2 v2.1.13
	github.com/santhosh-tekuri/jsonschema/v6 v6.0.3
	golang.org/x/net v0.62.0
	golang.org/x/text v0.43.0
)

require (
	github.com/jackc/pgpassfile v1.0.0 // indirect
	github.com/jackc/pgservicefile v0.0.0-20240606120523-5a60cdf6a761 // indirect
	github.com/stretchr/testify v1.12.1 // indirect
	google.golang.org/protobuf v1.36.12 // indirect
)
