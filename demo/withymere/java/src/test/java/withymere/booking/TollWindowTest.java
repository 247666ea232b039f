package withymere.booking;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;

import org.junit.jupiter.api.Test;

import withymere.OfficeFixture;
import withymere.records.LedgerBook;
import withymere.records.PassageLog;

class TollWindowTest {
    @Test
    void passageIsPaidForAtTheWindow() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            LedgerBook ledger = new LedgerBook();
            PassageLog log = new PassageLog();
            TollWindow window = new TollWindow(ledger, log, fixture.folder().resolve("receipts"));
            assertEquals(5001, window.sellPassage("Sedge", "Bulrush Steps", 4.5));
            assertEquals(4.5, ledger.balance("tolls"));
            assertTrue(Files.exists(fixture.folder().resolve("receipts/receipt-5001.txt")));
        }
    }

    @Test
    void returnCostsNineTenthsOfTwoPassages() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            LedgerBook ledger = new LedgerBook();
            PassageLog log = new PassageLog();
            TollWindow window = new TollWindow(ledger, log, fixture.folder().resolve("receipts"));
            window.sellReturn("Sedge", "Bulrush Steps", 5);
            assertEquals(9, ledger.balance("tolls"));
        }
    }

    @Test
    void whatIsSoldAtTheWindowIsInTheLog() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            LedgerBook ledger = new LedgerBook();
            PassageLog log = new PassageLog();
            TollWindow window = new TollWindow(ledger, log, fixture.folder().resolve("receipts"));
            window.sellPassage("Sedge", "Bulrush Steps", 4.5);
            window.sellReturn("Kingcup", "Bulrush Steps", 5);
            assertEquals("Bulrush Steps", log.busiestFlight());
            assertEquals(13.5, log.total());
        }
    }
}
