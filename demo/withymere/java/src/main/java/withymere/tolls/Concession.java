package withymere.tolls;

public record Concession(String reason, double share) {
}
