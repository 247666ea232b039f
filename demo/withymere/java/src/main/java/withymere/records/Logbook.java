package withymere.records;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.List;

import withymere.notices.Severity;

/** The office logbook. Everything writes here. */
public final class Logbook {
    private static Path folder = Path.of(System.getenv().getOrDefault("WITHYMERE_LOG", "."));
    private static int entries;

    private Logbook() {
    }

    public static void openIn(Path newFolder) {
        folder = newFolder;
        entries = 0;
    }

    public static void write(String topic, String text) {
        write(topic, text, Severity.CALM);
    }

    public static void write(String topic, String text, Severity severity) {
        String line = Instant.now() + " [" + severity + "] " + topic + ": " + text + "\n";
        try {
            Files.writeString(path(), line, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        entries++;
    }

    public static void warn(String topic, String text) {
        write(topic, text, Severity.WATCH);
    }

    public static void alarm(String topic, String text) {
        write(topic, text, Severity.DANGER);
    }

    public static int count() {
        return entries;
    }

    public static List<String> lines() {
        try {
            return Files.exists(path()) ? Files.readAllLines(path()) : List.of();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public static List<String> about(String topic) {
        return lines().stream().filter(line -> line.contains("] " + topic + ": ")).toList();
    }

    private static Path path() {
        return folder.resolve("logbook.txt");
    }
}
