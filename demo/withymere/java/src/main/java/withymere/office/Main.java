package withymere.office;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

import withymere.booking.PassageRequest;
import withymere.craft.Dimensions;
import withymere.craft.HireBoat;
import withymere.craft.Narrowboat;
import withymere.locks.Direction;
import withymere.water.Gauge;
import withymere.water.Rainfall;
import withymere.water.SluiceController;

public final class Main {
    private record FixedGauge(String reach, double floor, double read) implements Gauge {
    }

    private Main() {
    }

    public static void main(String[] args) throws IOException {
        Settings settings = Settings.load(Path.of(args.length > 0 ? args[0] : "withymere.conf"));
        Rainfall rain = new Rainfall();
        rain.add(4);
        Office office = new Office(settings, List.of(new FixedGauge("upper", 1, 1.4 + rain.wetness() / 100), new FixedGauge("lower", 0.9, 1.1)));
        office.open(List.of("keeper of Teasel Rise", "keeper of Bulrush Steps"));
        office.reader.sweep();
        new SluiceController(office.levels, "upper", 12).adjust(1.5);
        Narrowboat kingcup = new Narrowboat("Kingcup", new Dimensions(17, 2.1, 0.7), 2);
        HireBoat sedge = new HireBoat("Sedge", new Dimensions(14, 2.1, 0.6), 4, "H-204");
        office.register.enter(kingcup);
        office.register.enter(sedge);
        office.desk.book(new PassageRequest(kingcup, "Teasel Rise", Direction.UP, System.currentTimeMillis()));
        office.desk.book(new PassageRequest(sedge, "Bulrush Steps", Direction.DOWN, System.currentTimeMillis() + 60_000));
        System.out.println(office.desk.planDay("Teasel Rise") + " slots, " + office.desk.pending() + " waiting");
        office.window.sellPassage("Sedge", "Bulrush Steps", 4.8);
        office.bridge.open();
        System.out.println(office.bridge.isOpen() ? "bridge open" : "bridge closed");
        System.out.println(office.close());
    }
}
