package signalkit;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;

/** Sends frames to a mast over the office network. */
public class MastLink {
    private final String host;
    private final int port;

    public MastLink(String host, int port) {
        this.host = host;
        this.port = port;
    }

    public void send(Frame frame) throws IOException {
        try (Socket socket = new Socket()) {
            socket.connect(new InetSocketAddress(host, port), 2000);
            socket.getOutputStream().write((frame.encode() + "\n").getBytes(StandardCharsets.UTF_8));
        }
    }
}
