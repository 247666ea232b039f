package withymere.water;

public enum FloodState {
    CALM, WATCH, STOP
}
