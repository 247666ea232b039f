package withymere.craft;

/** Size of a craft or a chamber in metres. */
public record Dimensions(double length, double beam, double draught) {
    public boolean fits(Dimensions chamber) {
        return length <= chamber.length && beam <= chamber.beam && draught <= chamber.draught;
    }

    public double displacement() {
        return Math.round(length * beam * draught * 0.85 * 100) / 100.0;
    }
}
