import java.io.FileDescriptor;
import java.io.FileWriter;
import java.io.IOException;
import java.io.Writer;
import java.net.InetAddress;
import java.security.Permission;
import java.util.HashSet;
import java.util.Set;

/**
 * Writes down what a program asks of the machine, each with the lines of code that led to it, as JSON lines in the file
 * that HOLLOWMOOR_RECORD names. It refuses nothing. Frames are `class:line`, innermost first.
 */
@SuppressWarnings("removal")
public class EffectRecorder extends SecurityManager {
    private final String file = System.getenv("HOLLOWMOOR_RECORD");
    private final Set<String> seen = new HashSet<>();
    private boolean recording;

    /** Whether the code itself asked the system, and not something of the JDK on its way. */
    private static boolean askedDirectly() {
        StackTraceElement[] frames = new Throwable().getStackTrace();
        for (int at = 0; at < frames.length; at++) {
            if (frames[at].getClassName().equals("java.lang.System")) return at + 1 < frames.length && !frames[at + 1].getClassName().startsWith("java.") && !frames[at + 1].getClassName().startsWith("jdk.") && !frames[at + 1].getClassName().startsWith("sun.");
        }
        return false;
    }

    private synchronized void record(String kind) {
        if (recording) return;
        recording = true;
        try {
            StringBuilder frames = new StringBuilder();
            for (StackTraceElement frame : new Throwable().getStackTrace()) {
                String name = frame.getClassName();
                if (name.startsWith("java.") || name.startsWith("jdk.") || name.startsWith("sun.") || name.startsWith("javax.") || name.equals("EffectRecorder") || name.startsWith("org.junit.") || name.startsWith("picocli.")) {
                    // What the class loader does for itself is not what the code asked for.
                    if (name.startsWith("java.lang.ClassLoader") || name.startsWith("jdk.internal.loader.") || name.startsWith("java.lang.invoke.") && !name.contains("LambdaForm") && frame.getMethodName().startsWith("link")) return;
                    continue;
                }
                if (frames.length() > 0) frames.append("\",\"");
                frames.append(name).append(':').append(frame.getLineNumber());
            }
            if (frames.length() == 0) return;
            String line = "{\"kind\":\"" + kind + "\",\"frames\":[\"" + frames + "\"]}\n";
            if (!seen.add(line)) return;
            try (Writer out = new FileWriter(file, true)) { out.write(line); } catch (IOException failure) { throw new IllegalStateException(failure); }
        } finally { recording = false; }
    }

    @Override public void checkPermission(Permission permission) {
        String name = permission.getName();
        if (permission instanceof RuntimePermission && name.startsWith("getenv.") && askedDirectly()) record("environment");
    }
    @Override public void checkPermission(Permission permission, Object context) { }
    @Override public void checkRead(FileDescriptor descriptor) { }
    @Override public void checkWrite(FileDescriptor descriptor) { }
    @Override public void checkRead(String path) { record("file-system"); }
    @Override public void checkRead(String path, Object context) { record("file-system"); }
    @Override public void checkWrite(String path) { record("file-system"); }
    @Override public void checkDelete(String path) { record("file-system"); }
    @Override public void checkConnect(String host, int port) { record("network"); }
    @Override public void checkConnect(String host, int port, Object context) { record("network"); }
    @Override public void checkListen(int port) { record("network"); }
    @Override public void checkAccept(String host, int port) { record("network"); }
    @Override public void checkMulticast(InetAddress address) { record("network"); }
    @Override public void checkExec(String command) { record("process"); }
    @Override public void checkExit(int status) { record("process"); }
    @Override public void checkPropertyAccess(String key) { if (askedDirectly()) record("environment"); }
    @Override public void checkPropertiesAccess() { if (askedDirectly()) record("environment"); }
    @Override public void checkLink(String library) { }
    @Override public void checkAccess(Thread thread) { }
    @Override public void checkAccess(ThreadGroup group) { }
    @Override public void checkPackageAccess(String name) { }
    @Override public void checkPackageDefinition(String name) { }
    @Override public void checkSetFactory() { }
    @Override public void checkSecurityAccess(String target) { }
    @Override public void checkCreateClassLoader() { }
    @Override public void checkPrintJobAccess() { }
}
