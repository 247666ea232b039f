package withymere.craft;

public record Berth(String name, double length, double depth, boolean serviced) {
}
