package gang

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Two stand side by side in a pot twice as wide, three in one 2 / √3 + 1 times as
// wide, four in √2 + 1, seven in three; as many again over them where it is twice
// as tall.
func TestAPotHoldsSoManyMoulds(t *testing.T) {
	for _, c := range []struct {
		pot, tall, across, high float64
		moulds                  int
	}{
		{240, 250, 240, 100, 2}, {240, 250, 241, 100, 0}, {240, 250, 200, 130, 1}, {240, 250, 120, 130, 2}, {240, 250, 111, 130, 3},
		{240, 250, 99, 130, 4},
		{240, 250, 80, 130, 7}, {240, 250, 80, 120, 14}, {240, 250, 100, 251, 0}, {240, 0, 80, 900, 7}, {240, 250, 0, 1, 0},
	} {
		assert.Equal(t, c.moulds, Potful(c.pot, c.tall, c.across, c.high), "%+v", c)
	}
}
