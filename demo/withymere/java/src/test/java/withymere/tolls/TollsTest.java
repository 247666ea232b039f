package withymere.tolls;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;

import org.junit.jupiter.api.Test;

import withymere.OfficeFixture;
import withymere.craft.CraftKind;
import withymere.craft.Dimensions;
import withymere.craft.HireBoat;
import withymere.craft.WideBarge;

class TollsTest {
    private final Dimensions size = new Dimensions(17, 2.1, 0.7);

    @Test
    void tableIsReadFromText() {
        TollTable table = TollTable.parse("narrowboat = 2\nminimum = 3\n");
        assertEquals(2, table.rate(CraftKind.NARROWBOAT));
        assertEquals(3, table.minimum());
        assertThrows(IllegalArgumentException.class, () -> TollTable.parse("raft = 1"));
    }

    @Test
    void cargoCostsMoreAndHireBoatsPayByLock() {
        TollCalculator calculator = new TollCalculator();
        WideBarge barge = new WideBarge("Marl", size, 3);
        barge.loadCargo(40);
        assertEquals(12.3, calculator.tollFor(barge, 3));
        assertEquals(8, calculator.tollFor(new HireBoat("Sedge", size, 4, "H-204"), 5));
    }

    @Test
    void waivedCraftPaysNothing() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            TollCalculator calculator = new TollCalculator();
            calculator.waive("Marl", "works for the trust");
            assertEquals(0, calculator.tollFor(new WideBarge("Marl", size, 3), 3));
        }
    }

    @Test
    void receiptIsAddedUpFormattedAndFiled() throws IOException {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Receipt receipt = new Receipt(7, fixture.folder().resolve("receipts"));
            receipt.add("Kingcup, 5 locks", 6);
            receipt.add("water", 1.5);
            assertEquals(7.5, receipt.total());
            Path path = receipt.store();
            assertTrue(Files.readString(path).contains("Total"));
            assertThrows(IllegalStateException.class, () -> receipt.add("more", 1));
        }
    }

    @Test
    void concessionsNeverTakeMoreThanHalf() {
        ConcessionRules rules = new ConcessionRules();
        rules.enrol("Sedge");
        var found = rules.concessionsFor(new HireBoat("Sedge", size, 4, "H-204"), 14, LocalDate.of(2026, 1, 10));
        assertEquals("club member -10 %, winter -30 %, long passage -5 %", rules.explain(found));
        assertEquals(5.99, rules.apply(10, found));
    }

    @Test
    void accountKeepsToItsLimit() {
        try (OfficeFixture fixture = new OfficeFixture()) {
            Account account = new Account("A-17", fixture.folder());
            account.addCraft("Kingcup");
            account.setLimit(20);
            account.charge("Kingcup", "passage", 12);
            assertThrows(IllegalStateException.class, () -> account.charge("Kingcup", "passage", 12));
            assertTrue(Files.exists(account.pay(12)));
            assertEquals(0, account.balance());
            assertEquals(4, account.statement(LocalDate.now()).size());
        }
    }
}
