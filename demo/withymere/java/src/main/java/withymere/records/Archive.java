package withymere.records;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Year;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Old papers, put away by year. */
public class Archive {
    private final Path folder;

    public Archive(Path folder) {
        this.folder = folder;
    }

    public Path putAway(Path paper, int year) {
        try {
            Path to = Files.createDirectories(folder.resolve(String.valueOf(year)));
            String name = paper.getFileName().toString();
            Path target = to.resolve(name);
            for (int copy = 2; Files.exists(target); copy++) {
                target = to.resolve(copy + "-" + name);
            }
            return Files.move(paper, target);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public List<Integer> years() {
        List<Integer> years = new ArrayList<>();
        for (Path path : inside(folder)) {
            String name = path.getFileName().toString();
            if (name.matches("\\d{4}")) {
                years.add(Integer.valueOf(name));
            }
        }
        return years;
    }

    public List<ArchiveEntry> list(int year) {
        List<ArchiveEntry> entries = new ArrayList<>();
        for (Path path : inside(folder.resolve(String.valueOf(year)))) {
            entries.add(new ArchiveEntry(path.getFileName().toString(), year, sizeOf(path)));
        }
        return entries;
    }

    public long bytes() {
        return years().stream().flatMap(year -> list(year).stream()).mapToLong(ArchiveEntry::bytes).sum();
    }

    /** Throws away what is older than a number of years, and says how many papers that were. */
    public int thin(int years) {
        int oldest = Year.now().getValue() - years;
        int gone = 0;
        for (int year : years()) {
            if (year >= oldest) {
                continue;
            }
            for (Path path : inside(folder.resolve(String.valueOf(year)))) {
                delete(path);
                gone++;
            }
            delete(folder.resolve(String.valueOf(year)));
        }
        return gone;
    }

    private static List<Path> inside(Path folder) {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> paths = Files.list(folder)) {
            return paths.sorted().toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static long sizeOf(Path path) {
        try {
            return Files.size(path);
        } catch (IOException e) {
            return 0;
        }
    }

    private static void delete(Path path) {
        try {
            Files.delete(path);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
