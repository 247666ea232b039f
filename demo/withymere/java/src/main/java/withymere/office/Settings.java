package withymere.office;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;

public record Settings(String mastHost, int mastPort, Path logFolder, Path receiptFolder, int waterPerDay) {
    public static Settings load(Path path) throws IOException {
        Properties values = new Properties();
        if (Files.exists(path)) {
            try (Reader reader = Files.newBufferedReader(path)) {
                values.load(reader);
            }
        }
        return new Settings(values.getProperty("mast.host", "127.0.0.1"), Integer.parseInt(values.getProperty("mast.port", "4410")),
            Path.of(values.getProperty("log.folder", ".")), Path.of(values.getProperty("receipt.folder", "receipts")),
            Integer.parseInt(values.getProperty("water.perDay", "6000")));
    }
}
