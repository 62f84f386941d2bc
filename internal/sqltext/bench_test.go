package sqltext_test

import (
	"testing"

	"ramekin/internal/sqltext"
	"ramekin/internal/testkit"
)

func benchmarkScan(b *testing.B, lex *sqltext.Lexis, text []byte) {
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	s := sqltext.NewScanner(text, lex)
	for b.Loop() {
		s.Reset(text, lex)
		var t sqltext.Token
		for s.Read(&t); t.Kind != sqltext.EOF; s.Read(&t) {
		}
	}
}

func BenchmarkScanSQLServer(b *testing.B) {
	benchmarkScan(b, &sqltext.SQLServer, testkit.LongSQLServer(10<<20))
}

func BenchmarkScanMySQL(b *testing.B) {
	benchmarkScan(b, &sqltext.MySQL, testkit.LongMySQL(10<<20))
}
