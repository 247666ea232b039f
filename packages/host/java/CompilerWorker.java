import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.OutputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import javax.tools.Diagnostic;
import javax.tools.DiagnosticCollector;
import javax.tools.FileObject;
import javax.tools.ForwardingJavaFileManager;
import javax.tools.JavaCompiler;
import javax.tools.JavaFileManager;
import javax.tools.JavaFileObject;
import javax.tools.SimpleJavaFileObject;
import javax.tools.StandardJavaFileManager;
import javax.tools.ToolProvider;

import com.sun.source.util.JavacTask;

/**
 * Tells what the compiler finds wrong in a set of sources, again and again in one process. Nothing of the sources runs:
 * annotation processors are off, and no class is kept.
 *
 * In: an int, 0 to set all sources (options, then path and text of each), 1 to check with some of them other than they were
 * set (path and text; a missing text is a file that is gone). Out, for 1: the errors, each a line. Strings are an int, the
 * number of bytes (-1: missing), and UTF-8.
 */
public final class CompilerWorker {
    private static final class Source extends SimpleJavaFileObject {
        private final String path;
        private final String text;

        Source(String path, String text) {
            super(URI.create("mem:///" + path.replace(" ", "%20").replace("%", "%25").replace("%2520", "%20")), Kind.SOURCE);
            this.path = path;
            this.text = text;
        }

        @Override
        public CharSequence getCharContent(boolean ignoreEncodingErrors) {
            return text;
        }

        @Override
        public boolean isNameCompatible(String simpleName, Kind kind) {
            return path.endsWith("/" + simpleName + ".java") || path.equals(simpleName + ".java");
        }
    }

    /** Takes classes and keeps none. */
    private static final class Nowhere extends ForwardingJavaFileManager<StandardJavaFileManager> {
        Nowhere(StandardJavaFileManager files) {
            super(files);
        }

        @Override
        public JavaFileObject getJavaFileForOutput(Location location, String className, JavaFileObject.Kind kind, FileObject sibling) {
            return new SimpleJavaFileObject(URI.create("mem:///" + className.replace('.', '/') + kind.extension), kind) {
                @Override
                public OutputStream openOutputStream() {
                    return OutputStream.nullOutputStream();
                }
            };
        }
    }

    private static String readString(DataInputStream in) throws IOException {
        int length = in.readInt();
        if (length < 0) return null;
        return new String(in.readNBytes(length), StandardCharsets.UTF_8);
    }

    private static void writeString(DataOutputStream out, String text) throws IOException {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        out.writeInt(bytes.length);
        out.write(bytes);
    }

    private static List<String> check(JavaCompiler compiler, JavaFileManager files, List<String> options, Map<String, String> texts) throws IOException {
        DiagnosticCollector<JavaFileObject> found = new DiagnosticCollector<>();
        List<Source> sources = new ArrayList<>();
        texts.forEach((path, text) -> sources.add(new Source(path, text)));
        JavacTask task = (JavacTask) compiler.getTask(null, files, found, options, null, sources);
        List<String> errors = new ArrayList<>();
        try {
            task.analyze();
            // Some errors show only where casts are put in.
            if (found.getDiagnostics().stream().noneMatch(one -> one.getKind() == Diagnostic.Kind.ERROR)) task.generate();
        } catch (RuntimeException | StackOverflowError error) {
            errors.add(":0: the compiler itself failed: " + error);
        }
        for (Diagnostic<? extends JavaFileObject> one : found.getDiagnostics()) {
            if (one.getKind() != Diagnostic.Kind.ERROR) continue;
            String path = one.getSource() instanceof Source ? ((Source) one.getSource()).path : "";
            errors.add(path + ":" + Math.max(0, one.getLineNumber()) + ": " + one.getMessage(Locale.ENGLISH).replaceAll("\\s*\\n\\s*", "; "));
        }
        return errors;
    }

    public static void main(String[] args) throws IOException {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        DataInputStream in = new DataInputStream(new BufferedInputStream(System.in, 1 << 16));
        DataOutputStream out = new DataOutputStream(new BufferedOutputStream(System.out, 1 << 16));
        JavaFileManager files = new Nowhere(compiler.getStandardFileManager(null, Locale.ENGLISH, StandardCharsets.UTF_8));
        List<String> options = List.of();
        Map<String, String> sources = new TreeMap<>();
        while (true) {
            int what;
            try {
                what = in.readInt();
            } catch (EOFException end) {
                return;
            }
            Map<String, String> texts = what == 0 ? sources : new LinkedHashMap<>(sources);
            if (what == 0) {
                sources.clear();
                List<String> given = new ArrayList<>();
                for (int left = in.readInt(); left > 0; left--) given.add(readString(in));
                options = given;
            }
            for (int left = in.readInt(); left > 0; left--) {
                String path = readString(in);
                String text = readString(in);
                if (text == null) texts.remove(path);
                else texts.put(path, text);
            }
            if (what == 0) continue;
            List<String> errors = check(compiler, files, options, texts);
            out.writeInt(errors.size());
            for (String error : errors) writeString(out, error);
            out.flush();
        }
    }
}
