package withymere.water;

public interface Gauge {
    String reach();

    double floor();

    double read();
}
