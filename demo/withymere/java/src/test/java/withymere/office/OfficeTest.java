package withymere.office;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.time.LocalDate;
import java.util.List;

import org.junit.jupiter.api.Test;

import sluicedisplay.DisplayView;
import withymere.OfficeFixture;
import withymere.booking.Convoy;
import withymere.booking.PassageRequest;
import withymere.booking.RequestRefusedException;
import withymere.booking.WaitingList;
import withymere.craft.Craft;
import withymere.craft.Dimensions;
import withymere.craft.Narrowboat;
import withymere.locks.Direction;
import withymere.locks.LockFlight;
import withymere.locks.MaintenancePlan;
import withymere.panel.LockPanel;
import withymere.water.Gauge;
import withymere.water.LevelTable;
import withymere.water.WaterBudget;

class OfficeTest {
    private record FixedGauge(String reach, double floor, double read) implements Gauge {
    }

    private final Craft kingcup = new Narrowboat("Kingcup", new Dimensions(17, 2.1, 0.7), 2);

    private static Office officeFor(OfficeFixture fixture, double upper) {
        Settings settings = new Settings("127.0.0.1", fixture.port(), fixture.folder(), fixture.folder().resolve("receipts"), 6000);
        Office office = new Office(settings, List.of(new FixedGauge("upper", 1, upper), new FixedGauge("lower", 0.9, 1.1)));
        office.open(List.of("first keeper", "second keeper"));
        return office;
    }

    private PassageRequest request() {
        return new PassageRequest(kingcup, "Teasel Rise", Direction.UP, System.currentTimeMillis());
    }

    @Test
    void craftGoesThroughAndPays() throws IOException {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Office office = officeFor(fixture, 1.4);
            office.register.enter(kingcup);
            office.reader.sweep();
            assertEquals(1, office.desk.book(request()));
            assertEquals(1, office.desk.planDay("Teasel Rise"));
            assertEquals("Kingcup", office.desk.workNext());
            assertNull(office.desk.workNext());
            assertEquals(6, office.ledger.balance("tolls"));
            assertEquals(1, office.flights.get(0).passed());
            assertTrue(office.close().contains("1 passages, 0 waiting"));
        }
    }

    @Test
    void unknownCraftIsTurnedAway() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Office office = officeFor(fixture, 1.4);
            assertThrows(IllegalStateException.class, () -> office.desk.book(request()));
            office.flights.get(0).closeFor(2);
            assertThrows(RequestRefusedException.class, () -> office.desk.book(request()));
        }
    }

    @Test
    void lowWaterDelaysAndCloses() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Office office = officeFor(fixture, 0.4);
            assertEquals(1, office.reader.sweep());
            assertEquals(20, office.desk.delay("Teasel Rise"));
            assertFalse(office.flights.get(0).isOpen());
            assertEquals(List.of("upper"), office.reader.lowReaches());
            assertEquals(1, office.board.count());
        }
    }

    @Test
    void panelSaysWhetherTheGateMayOpen() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Office office = officeFor(fixture, 1.4);
            office.reader.sweep();
            for (DisplayView panel : office.panels()) {
                panel.attach(listener -> listener.accept(5));
                assertFalse(panel.shown().isEmpty());
            }
            LockPanel panel = new LockPanel(office.flights.get(0), office.levels);
            panel.attach(listener -> listener.accept(1));
            assertTrue(panel.gateMayOpen());
        }
    }

    @Test
    void requestsWaitWhileAReachIsLow() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Office office = officeFor(fixture, 1.4);
            WaitingList list = new WaitingList(office.queue, flight -> "mere");
            LevelTable.SHARED.record("mere", 0.5);
            assertFalse(list.offer(request()));
            LevelTable.SHARED.record("mere", 1);
            assertEquals(1, list.release());
            assertEquals(1, office.desk.pending());
            assertTrue(office.desk.cancel("Kingcup"));
        }
    }

    @Test
    void craftShareAChamber() {
        List<Craft> waiting = List.of(kingcup, new Narrowboat("Sedge", new Dimensions(17, 2.1, 0.7), 2), new Narrowboat("Teasel", new Dimensions(17, 2.1, 2), 2));
        List<Convoy> convoys = Convoy.form(waiting, new Dimensions(24, 4.6, 1.6));
        assertEquals(List.of("Kingcup", "Sedge"), convoys.get(0).names());
        assertEquals(1, convoys.size());
    }

    @Test
    void maintenanceFitsIntoTheDay() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            MaintenancePlan plan = new MaintenancePlan();
            plan.report("Teasel Rise 1", MaintenancePlan.JobKind.GATE);
            plan.report("Teasel Rise 2", MaintenancePlan.JobKind.GREASE);
            assertEquals(1, plan.day(1).size());
            assertEquals(2, plan.day(3).size());
            plan.finish("Teasel Rise 1", MaintenancePlan.JobKind.GATE);
            assertEquals(1, plan.open().size());
            LevelTable levels = new LevelTable();
            LockFlight flight = new LockFlight("Sallow", "upper", new WaterBudget(levels, 1000), levels);
            flight.build(2, new Dimensions(22, 2.3, 1.4));
            assertEquals("lock 2, 22.0 m, empty, below lock 1", plan.crewNote(flight.lockAt(2)));
        }
    }

    @Test
    void officeKeepsItsHours() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            OpeningHours hours = new OpeningHours(new OpeningHours.Span(7, 20), new OpeningHours.Span(9, 16));
            assertTrue(hours.openAt(LocalDate.of(2026, 6, 1).atTime(8, 0)));
            assertFalse(hours.openAt(LocalDate.of(2026, 12, 1).atTime(8, 0)));
            hours.except(LocalDate.of(2026, 6, 1), null);
            assertFalse(hours.openAt(LocalDate.of(2026, 6, 1).atTime(8, 0)));
        }
    }
}
