package source

import (
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"

	"github.com/bmatcuk/doublestar/v4"
	"github.com/go-git/go-git/v5/plumbing/format/gitignore"

	"ramekin/internal/signature"
)

// Tree is a working folder: paths are shown relative to it where they lie
// under it, and its exclusions hold.
type Tree struct {
	// Dir is the absolute working folder.
	Dir string
	// Base is the absolute folder that patterns start from; "" for Dir.
	Base string
	// Exclude holds patterns of paths below Base that are passed over.
	Exclude []string
}

// Show gives path as it is told to people and written to files.
func (t Tree) Show(path string) string {
	abs := path
	if !filepath.IsAbs(abs) {
		abs = filepath.Join(t.Dir, path)
	}
	if rel, err := filepath.Rel(t.Dir, abs); err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator)) {
		return filepath.ToSlash(rel)
	}
	return filepath.ToSlash(filepath.Clean(abs))
}

func (t Tree) abs(path string) string {
	if filepath.IsAbs(path) {
		return filepath.Clean(path)
	}
	return filepath.Join(t.Dir, path)
}

// Entry is a file that was found. Named is true where the user named the file
// itself and not a folder above it.
type Entry struct {
	Path  string
	Named bool
}

// neverWalked are folders that hold no source of the project's own.
var neverWalked = map[string]bool{".git": true, ".hg": true, ".svn": true, "node_modules": true}

// Files finds the files under paths for which want is true, in the order of
// paths and sorted by path below each; each file once. Files that an ignore
// file (.gitignore) or an exclusion covers are passed over. Paths that do not
// exist are errors; what cannot be read below a folder is a problem.
func (t Tree) Files(paths []string, want func(name string) bool) ([]Entry, []signature.Problem, []error) {
	var entries []Entry
	var problems []signature.Problem
	var errs []error
	seen := map[string]bool{}
	add := func(path string, named bool) {
		if !seen[path] {
			seen[path] = true
			entries = append(entries, Entry{path, named})
		}
	}
	for _, p := range paths {
		root := t.abs(p)
		info, err := os.Stat(root)
		if err != nil {
			errs = append(errs, fmt.Errorf("%s: %s", t.Show(p), PlainReason(err)))
			continue
		}
		if !info.IsDir() {
			add(root, true)
			continue
		}
		ignored := &ignores{root: root}
		_ = filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil {
				problems = append(problems, signature.Problem{File: t.Show(path), Message: "this could not be read: " + PlainReason(err)})
				if d != nil && d.IsDir() {
					return fs.SkipDir
				}
				return nil
			}
			if d.IsDir() {
				if path != root && (neverWalked[d.Name()] || ignored.match(path, true) || t.excluded(path)) {
					return fs.SkipDir
				}
				ignored.enter(path)
				return nil
			}
			if d.Type().IsRegular() && want(d.Name()) && !ignored.match(path, false) && !t.excluded(path) {
				add(path, false)
			}
			return nil
		})
	}
	return entries, problems, errs
}

// Glob finds the files that patterns match below the working folder.
func (t Tree) Glob(patterns []string) ([]Entry, error) {
	var entries []Entry
	seen := map[string]bool{}
	for _, p := range patterns {
		if !doublestar.ValidatePattern(p) {
			return nil, fmt.Errorf("the pattern %q is not closed: check its brackets", p)
		}
		base, pattern := doublestar.SplitPattern(filepath.ToSlash(p))
		root := filepath.FromSlash(base)
		if !filepath.IsAbs(root) {
			root = filepath.Join(t.base(), root)
		}
		err := doublestar.GlobWalk(os.DirFS(root), pattern, func(path string, d fs.DirEntry) error {
			full := filepath.Join(root, filepath.FromSlash(path))
			if !d.IsDir() && !seen[full] && !t.excluded(full) {
				seen[full] = true
				entries = append(entries, Entry{full, false})
			}
			return nil
		})
		if err != nil && !os.IsNotExist(err) {
			return nil, err
		}
	}
	return entries, nil
}

func (t Tree) base() string {
	if t.Base != "" {
		return t.Base
	}
	return t.Dir
}

func (t Tree) excluded(path string) bool {
	if len(t.Exclude) == 0 {
		return false
	}
	rel := Tree{Dir: t.base()}.Show(path)
	for _, p := range t.Exclude {
		if ok, _ := doublestar.Match(p, rel); ok {
			return true
		}
		if ok, _ := doublestar.Match(strings.TrimSuffix(p, "/**"), rel); ok && strings.HasSuffix(p, "/**") {
			return true
		}
	}
	return false
}

// PlainReason is the reason of an error without the path, which is told apart.
func PlainReason(err error) string {
	var pe *fs.PathError
	switch {
	case os.IsNotExist(err):
		return "there is no such file or folder"
	case os.IsPermission(err):
		return "there is no permission to read it"
	case asPathError(err, &pe):
		return pe.Err.Error()
	}
	return err.Error()
}

func asPathError(err error, target **fs.PathError) bool {
	pe, ok := err.(*fs.PathError)
	if ok {
		*target = pe
	}
	return ok
}

// ignores gathers the ignore files on the way down a tree.
type ignores struct {
	root     string
	patterns []gitignore.Pattern
	matcher  gitignore.Matcher
}

func (ig *ignores) parts(path string) []string {
	rel, err := filepath.Rel(ig.root, path)
	if err != nil || rel == "." {
		return nil
	}
	return strings.Split(filepath.ToSlash(rel), "/")
}

func (ig *ignores) enter(dir string) {
	data, err := os.ReadFile(filepath.Join(dir, ".gitignore"))
	if err != nil {
		return
	}
	domain := ig.parts(dir)
	for _, line := range strings.Split(string(data), "\n") {
		line = strings.TrimRight(line, "\r")
		if strings.HasPrefix(line, "#") || strings.TrimSpace(line) == "" {
			continue
		}
		ig.patterns = append(ig.patterns, gitignore.ParsePattern(line, domain))
	}
	ig.matcher = gitignore.NewMatcher(ig.patterns)
}

func (ig *ignores) match(path string, isDir bool) bool {
	return ig.matcher != nil && ig.matcher.Match(ig.parts(path), isDir)
}

// Each calls work for the numbers 0 to n-1 from a bounded pool of workers.
func Each(n int, work func(i int)) {
	workers := min(runtime.GOMAXPROCS(0), n)
	if workers < 2 {
		for i := range n {
			work(i)
		}
		return
	}
	var wg sync.WaitGroup
	next := make(chan int)
	for range workers {
		wg.Go(func() {
			for i := range next {
				work(i)
			}
		})
	}
	for i := range n {
		next <- i
	}
	close(next)
	wg.Wait()
}
