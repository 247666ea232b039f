package withymere.locks;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;

import org.junit.jupiter.api.Test;

class SwingBridgeTest {
    @Test
    void bridgeOpensWhenNothingStandsOnIt() throws IOException {
        SwingBridge bridge = new SwingBridge("Osier Lane bridge", 0);
        bridge.open();
        assertTrue(bridge.isOpen());
        bridge.close();
        assertEquals(0, bridge.wear());
        assertThrows(IOException.class, () -> new SwingBridge("Osier Lane bridge", 3).open());
    }
}
