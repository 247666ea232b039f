package withymere;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.stream.Stream;

import withymere.records.Logbook;

/** A folder for the logbook, and a mast that takes every frame; both gone after the test. */
public class OfficeFixture implements AutoCloseable {
    private final Path folder;
    private final ServerSocket mast;
    private final List<String> frames = new CopyOnWriteArrayList<>();

    public OfficeFixture() {
        try {
            folder = Files.createTempDirectory("withymere-");
            mast = new ServerSocket(0, 10, InetAddress.getLoopbackAddress());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        Logbook.openIn(folder);
        System.setProperty("withymere.mast.port", String.valueOf(mast.getLocalPort()));
        Thread listener = new Thread(this::listen, "mast");
        listener.setDaemon(true);
        listener.start();
    }

    public Path folder() {
        return folder;
    }

    public int port() {
        return mast.getLocalPort();
    }

    public List<String> frames() {
        return frames;
    }

    private void listen() {
        while (!mast.isClosed()) {
            try (Socket socket = mast.accept(); BufferedReader reader = new BufferedReader(new InputStreamReader(socket.getInputStream()))) {
                String line = reader.readLine();
                if (line != null) {
                    frames.add(line);
                }
            } catch (IOException e) {
                return;
            }
        }
    }

    @Override
    public void close() {
        try (Stream<Path> paths = Files.walk(folder)) {
            mast.close();
            for (Path path : paths.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(path);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
