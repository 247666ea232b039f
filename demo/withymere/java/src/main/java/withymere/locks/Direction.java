package withymere.locks;

public enum Direction {
    UP, DOWN
}
