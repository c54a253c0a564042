// Command mutants puts single faults into the core, one after the other, and tells which
// of them the tests of the same package notice: operators, conditions, constants and
// statements, a seeded sample of each package. What survives is listed, to be killed by a
// test or named as equal in equal.txt.
package main

import (
	"bytes"
	"cmp"
	_ "embed" // what is equal
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/format"
	"go/parser"
	"go/token"
	"hash/fnv"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

//go:embed equal.txt
var equalText string

// mutant is one fault: the file as it then is, and what was changed.
type mutant struct {
	file, in      string // in: the function
	before, after string
	line          int
	text          []byte
}

// key is what a mutant is known by, whatever else of the file changes.
func (m *mutant) key() string {
	return fmt.Sprintf("%s %s: %s => %s", m.file, m.in, oneLine(m.before), oneLine(m.after))
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }

func main() {
	n := flag.Int("n", 100, "how many faults of each package")
	seed := flag.Uint64("seed", 1, "which sample")
	least := flag.Float64("least", 90, "percent that must be noticed in each package")
	list := flag.Bool("v", false, "list what was noticed too")
	workers := flag.Int("workers", 2, "how many at once")
	flag.Parse()
	packages := flag.Args()
	if len(packages) == 0 {
		packages = all("core")
	}
	equal := map[string]bool{}
	for line := range strings.Lines(equalText) {
		if key, _, ok := strings.Cut(line, " // "); ok && !strings.HasPrefix(line, "#") {
			equal[strings.TrimSpace(key)] = true
		}
	}
	failed := false
	for _, pkg := range packages {
		pkg = filepath.Clean(pkg) // the same sample, however the folder is written
		start := time.Now()
		rate, tried, survivors, err := run(pkg, *n, *seed, *workers, equal, *list)
		if err != nil {
			fmt.Fprintln(os.Stderr, "mutants:", err)
			os.Exit(2)
		}
		fmt.Printf("%-16s %5.1f %% of %d noticed, in %.0f s\n", pkg, rate, tried, time.Since(start).Seconds())
		for _, m := range survivors {
			fmt.Printf("    survives, line %d: %s\n", m.line, m.key())
		}
		failed = failed || rate < *least
	}
	if failed {
		os.Exit(1)
	}
}

// all lists the packages of a folder that have tests.
func all(folder string) []string {
	var list []string
	err := filepath.WalkDir(folder, func(path string, d os.DirEntry, err error) error {
		if err != nil || !d.IsDir() {
			return err
		}
		if tests, _ := filepath.Glob(filepath.Join(path, "*_test.go")); tests != nil {
			if code, _ := filepath.Glob(filepath.Join(path, "*.go")); len(code) > len(tests) {
				list = append(list, path)
			}
		}
		return nil
	})
	if err != nil {
		fmt.Fprintln(os.Stderr, "mutants:", err)
		os.Exit(2)
	}
	return list
}

// run tries a sample of a package.
func run(pkg string, n int, seed uint64, workers int, equal map[string]bool, verbose bool) (rate float64,
	tried int, survivors []*mutant, err error) {
	start := time.Now()
	if out, err := test(pkg, "", 10*time.Minute); err != nil {
		return 0, 0, nil, fmt.Errorf("the tests of %s fail as it is: %w\n%s", pkg, err, out)
	}
	timeout := 20*time.Second + 5*time.Since(start) // a fault that takes longer is noticed
	sites, err := mutants(pkg)
	if err != nil {
		return 0, 0, nil, err
	}
	h := fnv.New64a()
	h.Write([]byte(pkg))
	rng := rand.New(rand.NewPCG(seed, h.Sum64()))
	rng.Shuffle(len(sites), func(i, j int) { sites[i], sites[j] = sites[j], sites[i] })
	var mu sync.Mutex
	next, noticed := 0, 0
	take := func() *mutant {
		mu.Lock()
		defer mu.Unlock()
		for next < len(sites) && tried < n {
			m := sites[next]
			next++
			if equal[m.key()] {
				continue
			}
			tried++
			return m
		}
		return nil
	}
	var all sync.WaitGroup
	for range workers {
		all.Go(func() {
			for m := take(); m != nil; m = take() {
				out, failed := m.try(pkg, timeout)
				mu.Lock()
				switch {
				case failed && bytes.Contains(out, []byte("[build failed]")):
					tried-- // no fault that could be made: another takes its place
				case failed:
					noticed++
					if verbose {
						fmt.Printf("    noticed, line %d: %s\n", m.line, m.key())
					}
				default:
					survivors = append(survivors, m)
				}
				mu.Unlock()
			}
		})
	}
	all.Wait()
	slices.SortFunc(survivors, func(a, b *mutant) int {
		return cmp.Or(cmp.Compare(a.file, b.file),
			a.line-b.line)
	})
	if tried == 0 {
		return 100, 0, nil, nil
	}
	return 100 * float64(noticed) / float64(tried), tried, survivors, nil
}

// try runs the tests of a package with the fault in it; the tree stays as it is.
func (m *mutant) try(pkg string, timeout time.Duration) (out []byte, failed bool) {
	dir, err := os.MkdirTemp("", "mutant-")
	if err != nil {
		return nil, false
	}
	defer os.RemoveAll(dir)
	file := filepath.Join(dir, filepath.Base(m.file))
	whole, err := filepath.Abs(m.file)
	if err != nil {
		return nil, false
	}
	overlay, err := json.Marshal(map[string]map[string]string{"Replace": {whole: file}})
	if err != nil {
		return nil, false
	}
	where := filepath.Join(dir, "overlay.json")
	if os.WriteFile(file, m.text, 0o600) != nil || os.WriteFile(where, overlay, 0o600) != nil {
		return nil, false
	}
	out, err = test(pkg, where, timeout)
	return out, err != nil
}

func test(pkg, overlay string, timeout time.Duration) ([]byte, error) {
	args := []string{"test", "-count=1", "-failfast", "-short", "-vet=off", "-timeout", timeout.String()}
	if overlay != "" {
		args = append(args, "-overlay", overlay)
	}
	cmd := exec.Command("go", append(args, "./"+pkg)...)
	cmd.Env = append(os.Environ(), "RAPID_NOFAILFILE=1")
	return cmd.CombinedOutput()
}

// mutants lists every fault of a package.
func mutants(pkg string) ([]*mutant, error) {
	files, err := filepath.Glob(filepath.Join(pkg, "*.go"))
	if err != nil {
		return nil, err
	}
	var list []*mutant
	for _, file := range files {
		if strings.HasSuffix(file, "_test.go") {
			continue
		}
		text, err := os.ReadFile(file)
		if err != nil {
			return nil, err
		}
		if bytes.Contains(text, []byte("Code generated")) {
			continue
		}
		found, err := faults(file, text)
		if err != nil {
			return nil, err
		}
		list = append(list, found...)
	}
	return list, nil
}

// opposite is what an operator becomes.
var opposite = map[token.Token]token.Token{
	token.ADD: token.SUB, token.SUB: token.ADD, token.MUL: token.QUO, token.QUO: token.MUL,
	token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR,
	token.EQL: token.NEQ, token.NEQ: token.EQL,
	token.LAND: token.LOR, token.LOR: token.LAND,
}

// faults lists every fault of a file.
func faults(file string, text []byte) ([]*mutant, error) {
	set := token.NewFileSet()
	tree, err := parser.ParseFile(set, file, text, parser.SkipObjectResolution)
	if err != nil {
		return nil, err
	}
	f := &finder{file: file, text: text, set: set}
	for _, decl := range tree.Decls {
		fn, ok := decl.(*ast.FuncDecl)
		if !ok || fn.Body == nil || fn.Name.Name == "String" || fn.Name.Name == "Error" {
			continue // what a person reads of a program itself
		}
		f.in = fn.Name.Name
		ast.Inspect(fn.Body, f.visit)
	}
	return f.list, nil
}

type finder struct {
	file, in string
	text     []byte
	set      *token.FileSet
	list     []*mutant
}

func (f *finder) source(n ast.Node) string {
	return string(f.text[f.set.Position(n.Pos()).Offset:f.set.Position(n.End()).Offset])
}

// put notes a fault that puts a text in the place of a node.
func (f *finder) put(n ast.Node, after string) { f.putAt(n.Pos(), n.End(), after) }

func (f *finder) putAt(from, to token.Pos, after string) {
	a, b := f.set.Position(from).Offset, f.set.Position(to).Offset
	text := slices.Concat(f.text[:a], []byte(after), f.text[b:])
	if _, err := format.Source(text); err != nil {
		return
	}
	f.list = append(f.list, &mutant{file: f.file, in: f.in, before: string(f.text[a:b]), after: after,
		line: f.set.Position(from).Line, text: text})
}

func (f *finder) visit(n ast.Node) bool {
	switch n := n.(type) {
	case *ast.BinaryExpr:
		if other, ok := opposite[n.Op]; ok && !f.joinsText(n) {
			f.put(n, f.source(n.X)+" "+other.String()+" "+f.source(n.Y))
		}
	case *ast.IfStmt:
		f.put(n.Cond, "!("+f.source(n.Cond)+")")
	case *ast.BasicLit:
		switch n.Kind {
		case token.INT:
			if v, err := strconv.ParseInt(n.Value, 0, 64); err == nil {
				f.put(n, strconv.FormatInt(v+1, 10))
			}
		case token.FLOAT:
			if v, err := strconv.ParseFloat(n.Value, 64); err == nil {
				f.put(n, strconv.FormatFloat(v*2+1, 'g', -1, 64))
			}
		}
	case *ast.Ident:
		if n.Name == "true" || n.Name == "false" {
			f.put(n, strconv.FormatBool(n.Name != "true"))
		}
	case *ast.BlockStmt:
		f.statements(n.List)
	case *ast.CaseClause:
		f.statements(n.Body)
	}
	return true
}

// joinsText tells a + between texts, which no minus could take the place of.
func (f *finder) joinsText(n *ast.BinaryExpr) bool {
	if n.Op != token.ADD {
		return false
	}
	return strings.ContainsAny(f.source(n), "\"`")
}

// statements leaves one out.
func (f *finder) statements(list []ast.Stmt) {
	for _, s := range list {
		switch s := s.(type) {
		case *ast.ExprStmt, *ast.IncDecStmt:
			f.put(s, "{}")
		case *ast.AssignStmt:
			if s.Tok != token.DEFINE {
				f.put(s, "{}")
			}
		}
	}
}
