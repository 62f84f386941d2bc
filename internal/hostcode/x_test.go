package hostcode_test
import ("testing";"fmt";"os";"ramekin/internal/hostcode")
func TestX(t *testing.T){ b,_:=os.ReadFile(os.Getenv("X")); tr:=hostcode.Parse(b,hostcode.LanguageOf(os.Getenv("X"))); fmt.Println(tr.Dump(tr.Root)) }
