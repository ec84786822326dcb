// Package docs holds those documents that the program reads itself.
package docs

import _ "embed"

// Connector is the connector protocol, as OpenAPI 3.0.
//
//go:embed connector.yaml
var Connector []byte
