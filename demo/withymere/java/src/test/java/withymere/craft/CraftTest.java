package withymere.craft;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.LocalDate;
import java.util.List;

import org.junit.jupiter.api.Test;

import withymere.OfficeFixture;

class CraftTest {
    private final Dimensions size = new Dimensions(17, 2.1, 0.7);

    @Test
    void narrowboatCarriesUpToTwentyFiveTonnes() {
        Craft kingcup = new Narrowboat("Kingcup", size, 2);
        kingcup.loadCargo(20);
        assertThrows(IllegalStateException.class, () -> kingcup.loadCargo(6));
        assertEquals(20, kingcup.unloadCargo());
        assertEquals(0, kingcup.cargo());
    }

    @Test
    void speedNeedsAnEngineAndOpenWater() {
        Craft sedge = new HireBoat("Sedge", size, 4, "H-204");
        assertEquals(0, sedge.speed());
        sedge.startEngine();
        assertEquals(5, sedge.speed());
        sedge.moor("wharf");
        assertEquals(0, sedge.speed());
    }

    @Test
    void tugTowsOneCraft() {
        Tug bulrush = new Tug("Bulrush", size, 3);
        Craft flat = new WorkFlat("Marl", size);
        bulrush.startEngine();
        bulrush.tow(flat);
        assertEquals(4, bulrush.speed());
        assertThrows(IllegalStateException.class, () -> bulrush.tow(new WorkFlat("Clay", size)));
        assertEquals(flat, bulrush.letGo());
        assertNull(bulrush.towing());
    }

    @Test
    void workFlatHasNoTank() {
        Craft flat = new WorkFlat("Marl", size);
        flat.startEngine();
        assertFalse(flat.engineRunning());
        assertThrows(UnsupportedOperationException.class, flat::pumpOut);
    }

    @Test
    void registerFindsWhatIsEntered() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            FleetRegister register = new FleetRegister();
            register.enter(new Narrowboat("Kingcup", size, 2));
            assertThrows(IllegalStateException.class, () -> register.enter(new Narrowboat("Kingcup", size, 2)));
            assertEquals(1, register.ofKind(CraftKind.NARROWBOAT).size());
            register.find("Kingcup").moor("wharf");
            assertEquals(1, register.mooredAt("wharf").size());
            register.strike("Kingcup");
            assertEquals(0, register.count());
        }
    }

    @Test
    void licenceIsValidOnceInspected() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Licence licence = new Licence("Kingcup", CraftKind.NARROWBOAT, LocalDate.now().minusDays(1), 12);
            assertTrue(licence.overdue());
            assertFalse(licence.inspect(List.of("loose fender")));
            licence.repair("loose fender");
            assertTrue(licence.valid());
            licence.withdraw("sunk");
            assertFalse(licence.valid());
        }
    }

    @Test
    void berthsGoToTheCraftThatFit() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            MooringPlan plan = new MooringPlan("Reed Basin", List.of(new Berth("a", 24, 1.5, true), new Berth("b", 18, 1, false)));
            Craft kingcup = new Narrowboat("Kingcup", size, 2);
            assertEquals("b", plan.assign(kingcup, false).name());
            assertEquals("Reed Basin/b", kingcup.mooredAt());
            assertEquals(1, plan.free());
            assertEquals(List.of("a: free (water and power)", "b: Kingcup"), plan.board());
            plan.leave(kingcup);
            assertEquals(2, plan.free());
        }
    }
}
