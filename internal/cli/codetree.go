package cli

import (
	"bytes"
	"path/filepath"
	"slices"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/hostcode"
	"ramekin/internal/source"
)

// codeTree finds files of an application by what they declare and by how other
// files import them.
type codeTree struct {
	entries []source.Entry
	tree    source.Tree
	// declares are the indexes of the files that declare a class.
	declares map[string][]int
	// packageNames are the indexes of the Go files of a folder that declare a name.
	packageNames map[string]map[string][]int
	// byBase and byFolder are the indexes of files by their name without its
	// extension, and by the name of their folder; filled when first asked for.
	byBase, byFolder map[string][]int
	shown            map[string]int
	texts            map[int][]byte
}

func (c *codeTree) index() {
	if c.byBase != nil {
		return
	}
	c.byBase, c.byFolder, c.shown, c.texts = map[string][]int{}, map[string][]int{}, map[string]int{}, map[int][]byte{}
	for i, e := range c.entries {
		if hostcode.LanguageOf(e.Path) == nil {
			continue
		}
		base := filepath.Base(e.Path)
		base = strings.TrimSuffix(base, filepath.Ext(base))
		c.byBase[base] = append(c.byBase[base], i)
		dir := filepath.Base(filepath.Dir(e.Path))
		c.byFolder[dir] = append(c.byFolder[dir], i)
		c.shown[c.tree.Show(e.Path)] = i
	}
}

func (c *codeTree) file(i int) (callsite.File, bool) {
	text, ok := c.texts[i]
	if !ok {
		read, err := source.ReadText(c.entries[i].Path)
		if err != nil {
			return callsite.File{}, false
		}
		text = read
		if len(c.texts) < 500 {
			c.texts[i] = text
		}
	}
	return callsite.File{Path: c.tree.Show(c.entries[i].Path), Text: text}, true
}

// declaring returns the files that declare a class, in the language of the file
// that uses it, the nearest first.
func (c *codeTree) declaring(from, class string) []callsite.File {
	const most = 3
	c.index()
	var near []int
	for _, i := range c.declares[class] {
		if filepath.Ext(c.entries[i].Path) == filepath.Ext(from) {
			near = append(near, i)
		}
	}
	slices.SortStableFunc(near, func(a, b int) int {
		return sharedPath(c.tree.Show(c.entries[b].Path), from) - sharedPath(c.tree.Show(c.entries[a].Path), from)
	})
	var files []callsite.File
	for _, i := range near[:min(most, len(near))] {
		if f, ok := c.file(i); ok {
			files = append(files, f)
		}
	}
	if len(files) == 0 {
		return c.besides(class)
	}
	return files
}

// sharedPath is how many bytes of their folders two paths share.
func sharedPath(a, b string) int {
	n := 0
	for i := 0; i < len(a) && i < len(b) && a[i] == b[i]; i++ {
		if a[i] == '/' {
			n = i
		}
	}
	return n
}

// besides looks for a class in the files of its name that stand beside those
// that were named: whoever checks one file means its constants too.
func (c *codeTree) besides(class string) []callsite.File {
	looked := map[string]bool{}
	for _, en := range c.entries {
		if !en.Named || hostcode.LanguageOf(en.Path) == nil {
			continue
		}
		path := filepath.Join(filepath.Dir(en.Path), class+filepath.Ext(en.Path))
		if looked[path] {
			continue
		}
		looked[path] = true
		if text, err := source.ReadText(path); err == nil {
			return []callsite.File{{Path: c.tree.Show(path), Text: text}}
		}
	}
	return nil
}

// module returns the files that an import path in a file may mean: by its
// place where it is relative, else by the end of its path.
func (c *codeTree) module(from, path string) []callsite.File {
	c.index()
	parts := importParts(path)
	if len(parts) == 0 {
		return nil
	}
	last := parts[len(parts)-1]
	var found []int
	for _, i := range append(append([]int(nil), c.byBase[last]...), c.packageFiles(last)...) {
		place := strings.TrimSuffix(filepath.ToSlash(c.tree.Show(c.entries[i].Path)), filepath.Ext(c.entries[i].Path))
		if c.tree.Show(c.entries[i].Path) != from && c.matches(place, from, path, parts) {
			found = append(found, i)
		}
	}
	var files []callsite.File
	for _, i := range found {
		if f, ok := c.file(i); ok {
			files = append(files, f)
		}
	}
	return files
}

// packageFiles are the files that stand for a folder: index.js, __init__.py, and
// all of a Go package.
func (c *codeTree) packageFiles(folder string) []int {
	var out []int
	for _, i := range c.byFolder[folder] {
		base := filepath.Base(c.entries[i].Path)
		if strings.HasPrefix(base, "index.") || base == "__init__.py" || strings.HasSuffix(base, ".go") && !strings.HasSuffix(base, "_test.go") {
			out = append(out, i)
		}
	}
	return out
}

// importParts are the names of an import path: ../db/texts, pkg.db.texts.
func importParts(path string) []string {
	path = strings.TrimSuffix(strings.TrimSuffix(strings.TrimSuffix(path, ".js"), ".ts"), ".mjs")
	if !strings.Contains(path, "/") {
		path = strings.ReplaceAll(path, ".", "/")
	}
	var parts []string
	for _, p := range strings.FieldsFunc(path, func(r rune) bool { return r == '/' || r == '\\' }) {
		if p = strings.Trim(p, "."); p != "" && p != "@" && p != "~" {
			parts = append(parts, p)
		}
	}
	return parts
}

// matches reports whether the file at place, without its extension, is what the
// import path of a file means.
func (c *codeTree) matches(place, from, path string, parts []string) bool {
	want := "/" + strings.Join(parts, "/")
	place = "/" + place
	folder := place[:strings.LastIndexByte(place, '/')]
	switch ends := func(p string) bool { return strings.HasSuffix(p, want) }; {
	case strings.HasPrefix(path, "./") || strings.HasPrefix(path, "../"): // relative, of JavaScript
		target := "/" + filepath.ToSlash(filepath.Join(filepath.Dir(from), strings.TrimSuffix(strings.TrimSuffix(path, ".js"), ".ts")))
		return place == target || folder == target
	case len(parts) == 1 && !strings.HasPrefix(path, "."):
		// A name alone is a library, unless a file of the same folder or the root is called so.
		dir := "/" + filepath.ToSlash(filepath.Dir(from))
		return place == strings.TrimSuffix(dir, "/.")+want || place == want || folder == want
	default:
		return ends(place) || ends(folder)
	}
}

// beside returns the files of the package of a Go file that declare a name.
func (c *codeTree) beside(from, name string) []callsite.File {
	c.index()
	at, ok := c.shown[from]
	if !ok {
		return nil
	}
	var files []callsite.File
	for _, i := range c.packageNames[filepath.Dir(c.entries[at].Path)][name] {
		if f, ok := c.file(i); ok && i != at {
			files = append(files, f)
		}
	}
	return files
}

// packageNames finds the names of constants, variables and functions that a Go
// file declares for its package, by the words that lines begin with.
func packageNames(text []byte) []string {
	var names []string
	add := func(line []byte) {
		n := 0
		for n < len(line) && (line[n] == '_' || line[n]|0x20 >= 'a' && line[n]|0x20 <= 'z' || line[n] >= '0' && line[n] <= '9') {
			n++
		}
		if n > 2 {
			names = append(names, string(line[:n]))
		}
	}
	inside := false
	for len(text) > 0 {
		line := text
		if i := bytes.IndexByte(text, '\n'); i >= 0 {
			line, text = text[:i], text[i+1:]
		} else {
			text = nil
		}
		switch {
		case inside && bytes.HasPrefix(line, []byte(")")):
			inside = false
		case inside && len(line) > 1 && line[0] == '\t':
			add(line[1:])
		case bytes.HasPrefix(line, []byte("const (")), bytes.HasPrefix(line, []byte("var (")):
			inside = true
		case bytes.HasPrefix(line, []byte("const ")):
			add(line[6:])
		case bytes.HasPrefix(line, []byte("var ")):
			add(line[4:])
		case bytes.HasPrefix(line, []byte("func ")):
			add(line[5:])
		}
	}
	return names
}
