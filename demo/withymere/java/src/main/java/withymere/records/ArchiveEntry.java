package withymere.records;

/** One paper in the archive. */
public record ArchiveEntry(String name, int year, long bytes) {
}
