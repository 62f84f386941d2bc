package hostcode_test

import (
	"testing"

	"ramekin/internal/hostcode"
	"ramekin/internal/testkit"
)

func benchmarkParse(b *testing.B, lang *hostcode.Language, paths ...string) {
	text := testkit.Large(b, 10<<20, "//", paths...)
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	var p hostcode.Parser
	var t hostcode.Tree
	for b.Loop() {
		p.Parse(text, lang, &t)
	}
}

func BenchmarkParseJava(b *testing.B) {
	const dir = "apps/boarding/src/ferry/boarding/"
	benchmarkParse(b, &hostcode.Java, dir+"Berths.java", dir+"Decks.java", dir+"Passes.java", dir+"Timetable.java")
}

func BenchmarkParseCSharp(b *testing.B) {
	benchmarkParse(b, &hostcode.CSharp, "apps/ticketdesk/Desk/BerthStore.cs", "apps/ticketdesk/Desk/PassStore.cs")
}
