package report

import (
	"embed"
	"fmt"
)

//go:embed schema
var schemas embed.FS

// SchemaNames are the formats that have a JSON Schema.
var SchemaNames = []string{"catalog", "findings"}

// Schema returns the JSON Schema of a format.
func Schema(name string) ([]byte, error) {
	for _, n := range SchemaNames {
		if n == name {
			return schemas.ReadFile("schema/" + name + ".json")
		}
	}
	return nil, fmt.Errorf("there is no schema %q: choose catalog or findings", name)
}
