package withymere.notices;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.List;

import org.junit.jupiter.api.Test;

import signalkit.MastLink;
import withymere.OfficeFixture;
import withymere.records.Logbook;

class NoticesTest {
    @Test
    void newLowWaterNoticeReplacesTheOlder() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            NoticeBoard board = new NoticeBoard();
            board.pin(new LowWaterNotice("upper", 0.8, 1));
            board.pin(new StoppageNotice("upper", "Monday", "Tuesday"));
            board.pin(new LowWaterNotice("upper", 0.4, 1));
            assertEquals(2, board.count());
            assertEquals(Severity.DANGER, board.loudest());
            assertEquals(3, Logbook.about("notices").size());
        }
    }

    @Test
    void sheetIsMarkedInDanger() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            TowpathPress press = new TowpathPress();
            press.take(List.of(new LowWaterNotice("upper", 0.4, 1)));
            assertTrue(press.sheet(30).contains("!! 1. Low water"));
        }
    }

    @Test
    void noticesAndPagesGoOutByRadio() throws IOException, InterruptedException {
        try (OfficeFixture fixture = new OfficeFixture()) {
            new RadioSender("127.0.0.1", fixture.port(), 2).broadcast(new StoppageNotice("upper", "Monday", "Tuesday"));
            new KeeperPager(new MastLink("127.0.0.1", fixture.port())).page("keeper", "gate stuck");
            for (int tries = 0; tries < 100 && fixture.frames().size() < 2; tries++) {
                Thread.sleep(10);
            }
            assertTrue(fixture.frames().get(0).startsWith("<2|notice|severity=WATCH"));
        }
    }
}
