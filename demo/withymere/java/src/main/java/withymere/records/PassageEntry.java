package withymere.records;

public record PassageEntry(String craft, String flight, long booked, double toll) {
}
