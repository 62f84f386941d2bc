// Package demo holds the demo project: the databases and applications of a
// small ferry line, with the mistakes that people really make planted in them.
package demo

import (
	"embed"
	"io/fs"
	"os"
	"path/filepath"
)

//go:embed all:files
var files embed.FS

// ReadFile returns a file of the demo project by its path there.
func ReadFile(path string) ([]byte, error) { return files.ReadFile("files/" + path) }

// Unpack writes the demo project into dir, which must not exist or be empty.
func Unpack(dir string) error {
	entries, err := os.ReadDir(dir)
	if err == nil && len(entries) > 0 {
		return &NotEmptyError{dir}
	}
	return fs.WalkDir(files, "files", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		rel, err := filepath.Rel("files", filepath.FromSlash(path))
		if err != nil {
			return err
		}
		target := filepath.Join(dir, rel)
		if d.IsDir() {
			return os.MkdirAll(target, 0o755)
		}
		data, err := files.ReadFile(path)
		if err != nil {
			return err
		}
		return os.WriteFile(target, data, 0o644)
	})
}

// NotEmptyError is a folder that holds files already.
type NotEmptyError struct{ Dir string }

func (e *NotEmptyError) Error() string {
	return e.Dir + " holds files already: name a new folder, or take that one away"
}
