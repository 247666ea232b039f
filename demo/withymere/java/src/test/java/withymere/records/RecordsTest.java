package withymere.records;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

import org.junit.jupiter.api.Test;

import withymere.OfficeFixture;

class RecordsTest {
    @Test
    void ledgerBalances() {
        LedgerBook ledger = new LedgerBook();
        ledger.credit("tolls", 12.3, "Marl");
        ledger.debit("tolls", 2, "change");
        assertEquals(10.3, ledger.balance("tolls"));
        assertEquals(List.of("tolls"), ledger.accounts());
        assertTrue(ledger.statement("tolls").endsWith("balance"));
        assertThrows(IllegalArgumentException.class, () -> ledger.credit("tolls", Double.NaN, "nothing"));
    }

    @Test
    void papersArePutAwayByYear() throws IOException {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Archive archive = new Archive(fixture.folder().resolve("archive"));
            for (int copy = 0; copy < 2; copy++) {
                Path paper = Files.writeString(fixture.folder().resolve("paper.txt"), "toll");
                archive.putAway(paper, 2001);
            }
            assertEquals(List.of(2001), archive.years());
            assertEquals(8, archive.bytes());
            assertEquals(2, archive.thin(10));
            assertTrue(archive.years().isEmpty());
        }
    }

    @Test
    void oldEntriesAreDue() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            PassageLog log = new PassageLog();
            log.add(new PassageEntry("Kingcup", "Teasel Rise", 1000, 6));
            log.add(new PassageEntry("Sedge", "Teasel Rise", System.currentTimeMillis(), 8));
            assertEquals(1, new Retention(log, 7).due().size());
            assertEquals("Teasel Rise", log.busiestFlight());
            assertEquals(14, log.total());
        }
    }
}
