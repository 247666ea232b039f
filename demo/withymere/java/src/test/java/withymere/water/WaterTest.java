package withymere.water;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;

import org.junit.jupiter.api.Test;

import withymere.OfficeFixture;

class WaterTest {
    private static LevelTable falling() {
        LevelTable table = new LevelTable();
        List.of(1.4, 1.3, 1.2).forEach(level -> table.record("upper", level));
        return table;
    }

    @Test
    void levelsThatFallThreeTimesAreFalling() {
        LevelTable table = falling();
        assertTrue(table.falling("upper"));
        assertEquals(1.2, table.latest("upper").orElseThrow());
        assertEquals(1.25, table.mean("upper", 2).orElseThrow(), 1e-9);
        assertTrue(table.latest("lower").isEmpty());
    }

    @Test
    void fallingReachHasHalfTheBudget() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            WaterBudget budget = new WaterBudget(falling(), 1000);
            budget.spend("upper", 400);
            assertFalse(budget.allows("upper", 200));
            assertThrows(IllegalStateException.class, () -> budget.spend("upper", 200));
            assertEquals(600, budget.left());
        }
    }

    @Test
    void sluiceOpensWhenTheLevelIsLow() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            LevelTable table = new LevelTable();
            table.record("upper", 1.2);
            SluiceController sluice = new SluiceController(table, "upper", 12);
            assertEquals(6, sluice.adjust(1.5));
            sluice.flood();
            assertEquals(12, sluice.position());
        }
    }

    @Test
    void oldRainCountsLess() {
        Rainfall rain = new Rainfall();
        rain.add(10);
        rain.add(0);
        assertEquals(8, rain.wetness());
        assertFalse(rain.dry());
    }

    @Test
    void floodClosesAReach() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            FloodWatch watch = new FloodWatch();
            watch.setLimits("weir", new FloodWatch.Limits(1.5, 2));
            LevelTable.SHARED.record("weir", 1.6);
            assertEquals(List.of("weir: WATCH"), watch.look());
            watch.rain().add(60);
            assertEquals(FloodState.WATCH, watch.state("weir"));
            LevelTable.SHARED.record("weir", 2.1);
            assertEquals(List.of("weir: STOP"), watch.look());
        }
    }
}
