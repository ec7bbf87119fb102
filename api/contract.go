// Package api holds the contract of the interface as it is served.
package api

import _ "embed"

// Contract is the OpenAPI description, as YAML.
//
//go:embed openapi.yaml
var Contract []byte
