package withymere.tolls;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

import withymere.records.Logbook;

/** Adds up, formats and files a receipt. */
public class Receipt {
    private record Line(String text, double amount) {
    }

    private final List<Line> lines = new ArrayList<>();
    private final int number;
    private final Path folder;
    private String footer = "Thank you for using the Withymere Navigation.";
    private int width = 40;
    private boolean stored;

    public Receipt(int number, Path folder) {
        this.number = number;
        this.folder = folder;
    }

    public void add(String text, double amount) {
        if (stored) {
            throw new IllegalStateException("receipt " + number + " is filed already");
        }
        lines.add(new Line(text, amount));
    }

    public double total() {
        return Math.round(lines.stream().mapToDouble(Line::amount).sum() * 100) / 100.0;
    }

    public double tax(double rate) {
        return Math.round(total() * rate * 100) / 100.0;
    }

    public void setFooter(String text) {
        footer = text;
    }

    public void setWidth(int columns) {
        width = Math.max(20, columns);
    }

    public String format() {
        StringBuilder text = new StringBuilder(" ".repeat(Math.max(0, width - 12))).append("Receipt ").append(number).append('\n');
        for (Line line : lines) {
            text.append(row(line.text(), line.amount()));
        }
        return text.append("=".repeat(width)).append('\n').append(row("Total", total())).append(footer).toString();
    }

    public Path store() {
        try {
            Files.createDirectories(folder);
            Path path = Files.writeString(folder.resolve("receipt-" + number + ".txt"), format());
            stored = true;
            Logbook.write("receipt", number + " filed, " + total());
            return path;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private String row(String text, double amount) {
        String figure = String.format("%.2f", amount);
        int room = width - figure.length() - 1;
        String shown = text.length() > room ? text.substring(0, room) : text;
        return shown + " ".repeat(width - figure.length() - shown.length()) + figure + "\n";
    }
}
