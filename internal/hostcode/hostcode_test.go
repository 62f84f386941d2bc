package hostcode_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/hostcode"
	"ramekin/internal/testkit"
)

// body parses statements inside a method and returns the nodes of its block.
func body(t *testing.T, lang *hostcode.Language, statements string) string {
	t.Helper()
	tree := hostcode.Parse([]byte("class C { void m() { "+statements+" } }"), lang)
	s, ok := strings.CutPrefix(tree.Dump(tree.Root), `File(Class C(Func m(Type "void" Block(`)
	require.True(t, ok, tree.Dump(tree.Root))
	return strings.TrimSuffix(s, "))))")
}

func TestJavaStatements(t *testing.T) {
	for _, test := range []struct{ src, want string }{
		{`a.b(1, "x").c();`, `ExprStmt(Call(Member c(Call(Member b(Name a) Number "1" String "\"x\""))))`},
		{`int i = 0, j = i++ + --k;`, `VarDecl i(Type "int" Number "0") VarDecl j(Type "int" Binary(Postfix(Name i) Unary(Name k)))`},
		{`Map<String, List<int[]>> m = new HashMap<>();`, `VarDecl m(Type "Map<String, List<int[]>>" New(Type "HashMap<>"))`},
		{`boolean b = a < c && d > e;`, `VarDecl b(Type "boolean" Binary(Binary(Name a Name c) Binary(Name d Name e)))`},
		{`x = y ? (String) z : null;`, `ExprStmt(Assign(Name x Cond(Name y Cast(Type "String" Name z) Keyword "null")))`},
		{`int n = (a) - b;`, `VarDecl n(Type "int" Binary(Name a Name b))`},
		{`Runnable r = () -> { f(); };`, `VarDecl r(Type "Runnable" Lambda(Block(ExprStmt(Call(Name f)))))`},
		{`list.forEach((k, v) -> g(k));`, `ExprStmt(Call(Member forEach(Name list) Lambda(Param k Param v Call(Name g Name k))))`},
		{`if (a) b(); else if (c) { d(); }`, `If(Name a Block(ExprStmt(Call(Name b))) Block(If(Name c Block(ExprStmt(Call(Name d))))))`},
		{`for (int i = 0; i < n; i++) f(i);`, `Loop(VarDecl i(Type "int" Number "0") Binary(Name i Name n) Postfix(Name i) Block(ExprStmt(Call(Name f Name i))))`},
		{`for (final String s : all) f(s);`, `Loop(VarDecl s(Type "String") Name all Block(ExprStmt(Call(Name f Name s))))`},
		{`switch (x) { case 1: case 2: f(); break; default: g(); }`, `Switch(Name x Case(Number "1" Block) Case(Number "2" Block(ExprStmt(Call(Name f)) Jump)) Case(Block(ExprStmt(Call(Name g)))))`},
		{`int y = switch (x) { case 1, 2 -> 3; default -> { yield 4; } };`, `VarDecl y(Type "int" SwitchExp(Name x Case(Number "1" Number "2" Block(ExprStmt(Number "3"))) Case(Block(Block(ExprStmt(Name yield))))))`},
		{`try (A a = b(); c) { d(); } catch (E | F e) { g(); } finally { h(); }`, `Try(VarDecl a(Type "A" Call(Name b)) Name c Block(ExprStmt(Call(Name d))) Catch(Block(ExprStmt(Call(Name g)))) Block(ExprStmt(Call(Name h))))`},
		{`Object o = new Object() { int f() { return 1; } };`, `VarDecl o(Type "Object" New(Type "Object" Class(Func f(Type "int" Block(Return(Number "1"))))))`},
		{`String[] a = {"x", "y"}; a[0] = b[i + 1];`, `VarDecl a(Type "String[]" Init(String "\"x\"" String "\"y\"")) ExprStmt(Assign(Index(Name a Number "0") Index(Name b Binary(Name i Number "1"))))`},
		{`outer: while (true) { continue outer; }`, `Loop(Keyword "true" Block(Jump))`},
		{`s = x instanceof String t && t.isEmpty() ? "\"" : 'c';`, `ExprStmt(Assign(Name s Cond(Binary(Binary(Name x) Call(Member isEmpty(Name t))) String "\"\\\"\"" Number "'c'")))`},
		{`List<String> l = Foo.<String>of(A::b);`, `VarDecl l(Type "List<String>" Call(Member of(Name Foo) Member b(Name A)))`},
		{`a(; b(); `, `ExprStmt(Call(Name a Opaque)) ExprStmt(Call(Name b))`},
	} {
		assert.Equal(t, test.want, body(t, &hostcode.Java, test.src), test.src)
	}
}

func TestCSharpStatements(t *testing.T) {
	for _, test := range []struct{ src, want string }{
		{`using var c = new Cmd("x") { Type = T.A, P = { 1 } };`, `Using(VarDecl c(Type "var" New(Type "Cmd" String "\"x\"" Init(Named Type(Member A(Name T)) Named P(Init(Number "1"))))))`},
		{`await using (var r = await c.ReadAsync()) { f(r["a"]); }`, `Using(VarDecl r(Type "var" Call(Member ReadAsync(Name c))) Block(ExprStmt(Call(Name f Index(Name r String "\"a\"")))))`},
		{`Cmd c = new(@"a""b");`, `VarDecl c(Type "Cmd" New(Type "" String "@\"a\"\"b\""))`},
		{`int? n = a?.B ?? 0;`, `VarDecl n(Type "int?" Binary(Member B(Name a) Number "0"))`},
		{`F(x: 1, out var y, ref z, in w);`, `ExprStmt(Call(Name F Named x(Number "1") OutArg(VarDecl y(Type "var")) OutArg(Name z) OutArg(Name w)))`},
		{`var s = $"a{b:N2}{{c}}{d["x"]}";`, `VarDecl s(Type "var" Interp(String "a" Name b String "{{c}}" Index(Name d String "\"x\"")))`},
		{`var s = $@"a{b}""c";`, `VarDecl s(Type "var" Interp(String "a" Name b String "\"\"c"))`},
		{`var n = x switch { 0 => "a", 1 or 2 => "b", _ => throw new E() };`, `VarDecl n(Type "var" SwitchExp(Name x Case(Number "0" Block(ExprStmt(String "\"a\""))) Case(Number "1" Number "2" Block(ExprStmt(String "\"b\""))) Case(Block(ExprStmt(New(Type "E"))))))`},
		{`if (o is int i and > 3 && i == 4) return;`, `If(Binary(Binary(Name o) Binary(Name i Number "4")) Block(Return))`},
		{`foreach (var (k, v) in d) F(k!);`, `Loop(Opaque Name d Block(ExprStmt(Call(Name F Name k))))`},
		{`var p = new[] { new P("a", 1), q };`, `VarDecl p(Type "var" New(Type "[]" Init(New(Type "P" String "\"a\"" Number "1") Name q)))`},
		{`c.Ps.AddRange([p, q]);`, `ExprStmt(Call(Member AddRange(Member Ps(Name c)) Init(Name p Name q)))`},
		{`int L(int a) => a + 1; return L(2);`, `Func L(Type "int" Param a(Type "int") Block(Return(Binary(Name a Number "1")))) Return(Call(Name L Number "2"))`},
		{`var t = (string)r.Get<int>(0); x ??= 5; lock (y) { z(); }`, `VarDecl t(Type "var" Cast(Type "string" Call(Member Get(Name r) Number "0"))) ExprStmt(Assign(Name x Number "5")) Name y Block(ExprStmt(Call(Name z)))`},
	} {
		assert.Equal(t, test.want, body(t, &hostcode.CSharp, test.src), test.src)
	}
}

func TestCSharpFile(t *testing.T) {
	tree := hostcode.Parse([]byte(`using System;
#nullable enable
namespace Ferry.Desk;
[Serializable, Obsolete("x")]
public sealed partial class Store<T>(IDb db) : Base, IStore<T> where T : class
{
    private const string A = "a", B = A + "b";
    public int Id { get; set; } = 5;
    public string Name => _n;
    static Store() { Init(); }
    async Task IStore<T>.RunAsync(int a = 1, params string[] rest) { await F(); }
    public static Store<T> operator +(Store<T> x, Store<T> y) => x;
    public int this[int i] { get { return i; } }
    enum E { A = 1, B }
    record R(int X);
    delegate void D(int x);
}
var top = F();
`), &hostcode.CSharp)
	assert.Equal(t, `File(Class Store(Type "Base" Type "IStore<T>" Field A(Type "string" String "\"a\"") Field B(Type "string" Binary(Name A String "\"b\"")) `+
		`Field Id(Type "int" Number "5") Func Name(Block(Return(Name _n))) Func Store(Block(ExprStmt(Call(Name Init)))) `+
		`Func RunAsync(Type "Task" Param a(Type "int" Number "1") Param rest(Type "string[]") Block(ExprStmt(Call(Name F)))) `+
		`Func operator(Param x(Type "Store<T>") Param y(Type "Store<T>") Block(Return(Name x))) Func this(Block(Return(Name i))) Class E Class R) `+
		`VarDecl top(Type "var" Call(Name F)))`, tree.Dump(tree.Root))
}

func TestStringValues(t *testing.T) {
	for src, want := range map[string]string{
		`"a\tb\u0041\101\"c"`:                        "a\tbAA\"c",
		"\"\"\"\n    {call\n      p}\\n\n    \"\"\"": "{call\n  p}\n\n",
	} {
		assert.Equal(t, want, hostcode.Java.StringValue(src), src)
	}
	for src, want := range map[string]string{
		`"a\x0041b"`:    "aAb",
		`@"a\b""c"`:     `a\b"c`,
		`"""a "x" b"""`: `a "x" b`,
		"\"\"\"\n    EXEC p\n      @a\n    \"\"\"": "EXEC p\n  @a",
	} {
		assert.Equal(t, want, hostcode.CSharp.StringValue(src), src)
	}
}

func TestRawInterpolation(t *testing.T) {
	tree := hostcode.Parse([]byte("class C { string S = $$\"\"\"a {b} {{c}} d\"\"\"; }"), &hostcode.CSharp)
	assert.Equal(t, `File(Class C(Field S(Type "string" Interp(String "a {b} " Name c String " d"))))`, tree.Dump(tree.Root))
}

func TestLanguageOf(t *testing.T) {
	assert.Equal(t, &hostcode.Java, hostcode.LanguageOf("a/B.JAVA"))
	assert.Equal(t, &hostcode.CSharp, hostcode.LanguageOf("x.cs"))
	assert.Nil(t, hostcode.LanguageOf("x.css"))
	assert.Nil(t, hostcode.LanguageOf(".cs"))
}

func TestPositionsCountCharacters(t *testing.T) {
	tree := hostcode.Parse([]byte("class C {\n  /* ä */ int x;\n}"), &hostcode.Java)
	line, column := tree.Position(strings.Index("class C {\n  /* ä */ int x;\n}", "int"))
	assert.Equal(t, []int{2, 11}, []int{line, column})
}

// TestDeepNesting reads what nests deeper than any program: it must come back,
// and know the statement behind it.
func TestDeepNesting(t *testing.T) {
	for _, lang := range hostcode.Languages {
		for _, deep := range []string{
			strings.Repeat("(", 100000), strings.Repeat("{", 100000), strings.Repeat("a[", 100000), strings.Repeat("-", 100000),
			strings.Repeat("if (a) ", 100000), strings.Repeat("x -> ", 50000), strings.Repeat("new A(", 50000), strings.Repeat("class A {", 50000),
			strings.Repeat("a ? b : ", 50000), strings.Repeat("$\"{", 20000), strings.Repeat("a.b().", 50000),
		} {
			tree := hostcode.Parse([]byte("class C { void m() { "+deep), lang)
			assert.NotEmpty(t, tree.Nodes)
		}
	}
}

func TestBrokenFilesKeepWhatStandsBehind(t *testing.T) {
	src := "class C { void a() { x( ; } void b() { ok(1); } }"
	tree := hostcode.Parse([]byte(src), &hostcode.Java)
	assert.Contains(t, tree.Dump(tree.Root), `Func b(Type "void" Block(ExprStmt(Call(Name ok Number "1"))))`)
}

func FuzzParse(f *testing.F) {
	for _, path := range []string{"apps/boarding/src/ferry/boarding/Berths.java", "apps/ticketdesk/Desk/PassStore.cs"} {
		f.Add(testkit.DemoFile(f, path))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		for _, lang := range hostcode.Languages {
			tree := hostcode.Parse(src, lang)
			seen := make([]bool, len(tree.Nodes))
			var visit func(id hostcode.NodeID)
			visit = func(id hostcode.NodeID) {
				if seen[id] {
					t.Fatalf("%s: node %d hangs in two places", lang.Name, id)
				}
				seen[id] = true
				if n := tree.At(id); n.Start > n.End || int(n.End) > len(src) {
					t.Fatalf("%s: %s from %d to %d of %d", lang.Name, n.Kind, n.Start, n.End, len(src))
				}
				for c := range tree.Children(id) {
					visit(c)
				}
			}
			visit(tree.Root)
		}
	})
}

func TestParserUsesItsMemoryAgain(t *testing.T) {
	var p hostcode.Parser
	var tree hostcode.Tree
	first := p.Parse([]byte("class A { void m() { f(1); } }"), &hostcode.Java, &tree).Dump(1)
	p.Parse([]byte("class B {}"), &hostcode.Java, &tree)
	again := p.Parse([]byte("class A { void m() { f(1); } }"), &hostcode.Java, &tree).Dump(1)
	require.Equal(t, first, again)
}
