import com.sun.source.tree.*;
import com.sun.source.util.*;
import java.io.*;
import java.nio.charset.StandardCharsets;
import java.nio.file.*;
import java.util.*;
import java.util.stream.*;
import javax.lang.model.element.*;
import javax.lang.model.type.*;
import javax.tools.*;

/**
 * Prints what javac binds every name of the given sources to, by its own public API, one use a line:
 * path, offset of the name, T|F|M|C, binary name of the class that declares it, name, erased parameter types.
 * Arguments: a file of options, a file of source paths, a file for the output. No dependency analyser is run.
 */
public class JavacUses {
  public static void main(String[] args) throws IOException {
    List<String> options = Files.readAllLines(Path.of(args[0]));
    List<Path> sources = Files.readAllLines(Path.of(args[1])).stream().map(Path::of).collect(Collectors.toList());
    JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
    DiagnosticCollector<JavaFileObject> problems = new DiagnosticCollector<>();
    StandardJavaFileManager files = compiler.getStandardFileManager(problems, null, StandardCharsets.UTF_8);
    JavacTask task = (JavacTask) compiler.getTask(null, files, problems, options, null, files.getJavaFileObjectsFromPaths(sources));
    List<CompilationUnitTree> units = new ArrayList<>();
    task.parse().forEach(units::add);
    task.analyze();
    long errors = problems.getDiagnostics().stream().filter(one -> one.getKind() == Diagnostic.Kind.ERROR).count();
    if (errors > 0) {
      System.err.println(errors + " errors, the first: " + problems.getDiagnostics().stream().filter(one -> one.getKind() == Diagnostic.Kind.ERROR).findFirst().get());
    }
    try (PrintWriter out = new PrintWriter(Files.newBufferedWriter(Path.of(args[2])))) {
      for (CompilationUnitTree unit : units) new Uses(Trees.instance(task), task, unit, out).scan(unit, null);
    }
  }

  static final class Uses extends TreePathScanner<Void, Void> {
    private final Trees trees;
    private final JavacTask task;
    private final CompilationUnitTree unit;
    private final PrintWriter out;
    private final String path;
    private final SourcePositions positions;

    Uses(Trees trees, JavacTask task, CompilationUnitTree unit, PrintWriter out) {
      this.trees = trees;
      this.task = task;
      this.unit = unit;
      this.out = out;
      this.path = unit.getSourceFile().toUri().getPath();
      this.positions = trees.getSourcePositions();
    }

    private void use(long at, Element element) {
      if (element == null || at < 0) return;
      String line;
      ElementKind kind = element.getKind();
      if (kind.isClass() || kind.isInterface()) {
        line = "T\t" + binary((TypeElement) element) + "\t\t";
      } else if (kind == ElementKind.FIELD || kind == ElementKind.ENUM_CONSTANT) {
        if (!(element.getEnclosingElement() instanceof TypeElement)) return;
        line = "F\t" + binary((TypeElement) element.getEnclosingElement()) + "\t" + element.getSimpleName() + "\t";
      } else if (kind == ElementKind.METHOD || kind == ElementKind.CONSTRUCTOR) {
        ExecutableElement method = (ExecutableElement) element;
        String parameters = method.getParameters().stream().map(one -> erased(one.asType())).collect(Collectors.joining(","));
        String owner = method.getEnclosingElement() instanceof TypeElement ? binary((TypeElement) method.getEnclosingElement()) : "";
        line = (kind == ElementKind.METHOD ? "M\t" : "C\t") + owner + "\t" + element.getSimpleName() + "\t" + parameters;
      } else {
        return;
      }
      out.println(path + "\t" + at + "\t" + line);
    }

    private String binary(TypeElement type) {
      return task.getElements().getBinaryName(type).toString();
    }

    private String erased(TypeMirror type) {
      TypeMirror plain = task.getTypes().erasure(type);
      if (plain.getKind() == TypeKind.ARRAY) return erased(((ArrayType) plain).getComponentType()) + "[]";
      if (plain.getKind() == TypeKind.DECLARED) return binary((TypeElement) ((DeclaredType) plain).asElement());
      return plain.toString().replaceAll("@\\S+ ", "");
    }

    @Override public Void visitIdentifier(IdentifierTree tree, Void nothing) {
      use(positions.getStartPosition(unit, tree), trees.getElement(getCurrentPath()));
      return super.visitIdentifier(tree, nothing);
    }

    @Override public Void visitMemberSelect(MemberSelectTree tree, Void nothing) {
      use(positions.getEndPosition(unit, tree) - tree.getIdentifier().length(), trees.getElement(getCurrentPath()));
      return super.visitMemberSelect(tree, nothing);
    }

    @Override public Void visitMemberReference(MemberReferenceTree tree, Void nothing) {
      String name = tree.getName().toString();
      boolean creates = tree.getMode() == MemberReferenceTree.ReferenceMode.NEW;
      use(creates ? positions.getStartPosition(unit, tree) : positions.getEndPosition(unit, tree) - name.length(), trees.getElement(getCurrentPath()));
      return super.visitMemberReference(tree, nothing);
    }

    @Override public Void visitNewClass(NewClassTree tree, Void nothing) {
      Element constructor = trees.getElement(getCurrentPath());
      if (tree.getClassBody() == null) use(positions.getStartPosition(unit, tree.getIdentifier()), constructor);
      return super.visitNewClass(tree, nothing);
    }

    @Override public Void visitImport(ImportTree tree, Void nothing) {
      return null;
    }
  }
}
