package signalkit;

/** Frame of the lock-side radio: a channel, a kind and a text, with a checksum. */
public class Frame {
    private final int channel;
    private final String kind;
    private final StringBuilder fields = new StringBuilder();

    public Frame(int channel, String kind) {
        this.channel = channel;
        this.kind = kind;
    }

    public Frame append(String field, Object value) {
        fields.append(fields.length() == 0 ? "" : ";").append(field).append('=').append(value);
        return this;
    }

    public String encode() {
        String body = channel + "|" + kind + "|" + fields;
        return String.format("<%s|%02x>", body, body.chars().sum() % 256);
    }
}
