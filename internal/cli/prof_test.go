package cli
import ("testing";"os";"bytes")
func TestProf(t *testing.T){ var a,b bytes.Buffer; Main([]string{"calls","--format","json",os.Getenv("D")}, os.Stdin, &a, &b) }
