package demo_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/demo"
)

func TestUnpack(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "new", "trip")
	require.NoError(t, demo.Unpack(dir))
	for _, path := range []string{"README.md", "ramekin.toml", ".gitignore", "db/desk/berths.sql", "apps/ticketdesk/Desk/PassStore.cs"} {
		want, err := demo.ReadFile(path)
		require.NoError(t, err)
		got, err := os.ReadFile(filepath.Join(dir, filepath.FromSlash(path)))
		require.NoError(t, err)
		assert.Equal(t, string(want), string(got))
	}
	var full *demo.NotEmptyError
	require.ErrorAs(t, demo.Unpack(dir), &full, "nothing of somebody else's is written over")
	assert.Equal(t, dir, full.Dir)
	_, err := demo.ReadFile("nowhere")
	assert.Error(t, err)
}
