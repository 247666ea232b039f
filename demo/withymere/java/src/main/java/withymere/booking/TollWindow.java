package withymere.booking;

import java.nio.file.Path;

import withymere.records.LedgerBook;
import withymere.records.PassageEntry;
import withymere.records.PassageLog;
import withymere.tolls.Receipt;

/** Takes tolls from crews who come to the office. */
public class TollWindow {
    private final LedgerBook ledger;
    private final PassageLog log;
    private final Path folder;
    private int number = 5000;

    public TollWindow(LedgerBook ledger, PassageLog log, Path folder) {
        this.ledger = ledger;
        this.log = log;
        this.folder = folder;
    }

    public int sellPassage(String craft, String flight, double toll) {
        number++;
        Receipt receipt = new Receipt(number, folder);
        receipt.add(craft + ", one passage", toll);
        receipt.store();
        ledger.credit("tolls", receipt.total(), craft);
        log.add(new PassageEntry(craft, flight, System.currentTimeMillis(), receipt.total()));
        return number;
    }

    /** There and back within the week, for nine tenths. */
    public int sellReturn(String craft, String flight, double toll) {
        number++;
        Receipt receipt = new Receipt(number, folder);
        receipt.add(craft + ", there and back", toll * 1.8);
        receipt.store();
        ledger.credit("tolls", receipt.total(), craft);
        log.add(new PassageEntry(craft, flight, System.currentTimeMillis(), receipt.total()));
        return number;
    }
}
