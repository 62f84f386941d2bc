package cli

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"github.com/pelletier/go-toml/v2"

	"ramekin/internal/bind"
	"ramekin/internal/check"
	"ramekin/internal/signature"
)

// settingsFile is the name of the settings file.
const settingsFile = "ramekin.toml"

// settings are the contents of ramekin.toml.
type settings struct {
	// Exclude holds patterns of files that are never read.
	Exclude      []string                       `toml:"exclude"`
	Databases    map[string]databaseSettings    `toml:"databases"`
	Applications map[string]applicationSettings `toml:"applications"`
	Bindings     []bindingSettings              `toml:"bindings"`
	Severities   map[string]string              `toml:"severities"`

	path string
}

type databaseSettings struct {
	Dialect string   `toml:"dialect"`
	DDL     []string `toml:"ddl"`
}

type applicationSettings struct {
	Code      []string `toml:"code"`
	Databases []string `toml:"databases"`
}

type bindingSettings struct {
	Database string   `toml:"database"`
	Language string   `toml:"language"`
	Out      string   `toml:"out"`
	Package  string   `toml:"package"`
	Routines []string `toml:"routines"`
}

// findSettings looks for ramekin.toml in dir and the folders above it. It
// returns nil where there is none.
func findSettings(dir string) (*settings, error) {
	for {
		path := filepath.Join(dir, settingsFile)
		data, err := os.ReadFile(path)
		if err == nil {
			return parseSettings(path, data)
		}
		if !errors.Is(err, os.ErrNotExist) {
			return nil, err
		}
		up := filepath.Dir(dir)
		if up == dir {
			return nil, nil
		}
		dir = up
	}
}

// parseSettings reads the settings and refuses what it does not know, by name
// and place.
func parseSettings(path string, data []byte) (*settings, error) {
	s := &settings{path: path}
	d := toml.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	err := d.Decode(s)
	var strict *toml.StrictMissingError
	var decode *toml.DecodeError
	switch {
	case errors.As(err, &strict):
		var errs []error
		for i := range strict.Errors {
			e := &strict.Errors[i]
			line, column := e.Position()
			errs = append(errs, fmt.Errorf("%s:%d:%d: there is no setting %q%s", path, line, column, strings.Join(e.Key(), "."), nearSetting(e.Key())))
		}
		return nil, errors.Join(errs...)
	case errors.As(err, &decode):
		line, column := decode.Position()
		return nil, fmt.Errorf("%s:%d:%d: %s", path, line, column, strings.TrimPrefix(decode.Error(), "toml: "))
	case err != nil:
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	return s, s.validate()
}

var settingKeys = []string{"exclude", "databases", "applications", "bindings", "severities", "dialect", "ddl", "code", "database", "language", "out", "package", "routines"}

func nearSetting(key []string) string {
	if len(key) == 0 {
		return ""
	}
	last := key[len(key)-1]
	best, least := "", 3
	for _, k := range settingKeys {
		if d := signature.EditDistance(last, k); d < least {
			best, least = k, d
		}
	}
	if best == "" || best == last {
		return ""
	}
	return fmt.Sprintf("; did you mean %q?", best)
}

func (s *settings) validate() error {
	var errs []error
	fail := func(format string, args ...any) { errs = append(errs, fmt.Errorf(s.path+": "+format, args...)) }
	for _, name := range sortedKeys(s.Databases) {
		db := s.Databases[name]
		if _, err := parseDialect(db.Dialect); err != nil {
			fail("databases.%s.dialect: %v", name, err)
		}
		if len(db.DDL) == 0 {
			fail("databases.%s.ddl: name the files that declare its routines, such as [\"db/**/*.sql\"]", name)
		}
	}
	for _, name := range sortedKeys(s.Applications) {
		app := s.Applications[name]
		if len(app.Code) == 0 {
			fail("applications.%s.code: name its files, such as [\"src/**/*.java\"]", name)
		}
		for _, db := range app.Databases {
			if _, ok := s.Databases[db]; !ok {
				fail("applications.%s.databases: there is no database %q here", name, db)
			}
		}
	}
	for i, b := range s.Bindings {
		if _, ok := s.Databases[b.Database]; !ok {
			fail("bindings, number %d: there is no database %q here", i+1, b.Database)
		}
		if bind.TargetNamed(b.Language) == nil {
			fail("bindings, number %d: there is no language %q to bind to: choose one of %s", i+1, b.Language, strings.Join(bind.TargetNames(), ", "))
		}
		if b.Out == "" {
			fail("bindings, number %d: say where to write with out = \"folder\"", i+1)
		}
	}
	if _, err := s.severities(); err != nil {
		errs = append(errs, err)
	}
	return errors.Join(errs...)
}

// severities are the overrides by rule.
func (s *settings) severities() (map[string]check.Severity, error) {
	out := map[string]check.Severity{}
	for _, rule := range sortedKeys(s.Severities) {
		sev := check.Severity(s.Severities[rule])
		if check.RuleNamed(rule) == nil {
			return nil, fmt.Errorf("%s: severities: there is no rule %q; `ramekin explain` lists them", s.path, rule)
		}
		if sev != check.Off && sev.Rank() == 0 {
			return nil, fmt.Errorf("%s: severities.%s: %q is no severity: choose error, warning, note or off", s.path, rule, sev)
		}
		out[rule] = sev
	}
	return out, nil
}

func sortedKeys[V any](m map[string]V) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	return keys
}
