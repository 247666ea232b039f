package withymere.tolls;

import java.time.Year;

public class SeasonPass {
    private final String craft;
    private final int year;
    private final int passages;
    private int uses;

    public SeasonPass(String craft, int year, int passages) {
        this.craft = craft;
        this.year = year;
        this.passages = passages;
    }

    public boolean valid() {
        return Year.now().getValue() == year && uses < passages;
    }

    public void use() {
        if (!valid()) {
            throw new IllegalStateException("the pass of " + craft + " is used up");
        }
        uses++;
    }

    public int left() {
        return passages - uses;
    }
}
