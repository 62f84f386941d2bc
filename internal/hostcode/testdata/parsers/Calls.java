import com.sun.source.tree.*;
import com.sun.source.util.*;
import java.io.*;
import java.nio.charset.MalformedInputException;
import java.nio.file.*;
import java.util.*;
import javax.tools.*;

/**
 * Lists the calls with a text among their arguments, as javac reads them:
 * "file TAB line TAB name TAB number of arguments". File names come on standard
 * input; a file that javac finds faults in is left out.
 */
class Calls {
    public static void main(String[] args) throws IOException {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        var out = new PrintStream(new FileOutputStream(FileDescriptor.out), false, "UTF-8");
        List<String> names = new BufferedReader(new InputStreamReader(System.in)).lines().filter(s -> !s.isEmpty()).toList();
        for (String name : names) {
            var faults = new DiagnosticCollector<JavaFileObject>();
            try (var files = compiler.getStandardFileManager(null, null, null)) {
                JavacTask task = (JavacTask) compiler.getTask(null, files, faults, List.of("-proc:none"), null, files.getJavaFileObjects(name));
                String text = Files.readString(Path.of(name));
                for (CompilationUnitTree unit : task.parse()) {
                    if (faults.getDiagnostics().stream().anyMatch(d -> d.getKind() == Diagnostic.Kind.ERROR)) {
                        continue;
                    }
                    out.println(name + "\t0\t\t0");
                    SourcePositions places = Trees.instance(task).getSourcePositions();
                    new TreeScanner<Void, Void>() {
                        @Override
                        public Void visitMethodInvocation(MethodInvocationTree call, Void none) {
                            ExpressionTree select = call.getMethodSelect();
                            String method = null;
                            if (select instanceof IdentifierTree id) {
                                method = id.getName().toString();
                            } else if (select instanceof MemberSelectTree member) {
                                method = member.getIdentifier().toString();
                            }
                            boolean texts = call.getArguments().stream().anyMatch(a -> a.getKind() == Tree.Kind.STRING_LITERAL);
                            if (method != null && texts) {
                                // A name ends where its expression does.
                                int end = (int) places.getEndPosition(unit, call.getMethodSelect());
                                long line = text.substring(0, end).chars().filter(c -> c == '\n').count() + 1;
                                out.println(name + "\t" + line + "\t" + method + "\t" + call.getArguments().size());
                            }
                            return super.visitMethodInvocation(call, none);
                        }
                    }.scan(unit, null);
                }
            } catch (IllegalStateException | MalformedInputException fault) {
                continue;
            }
        }
        out.flush();
    }
}
