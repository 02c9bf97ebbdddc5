package boldanvil.core.link.xcp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.program.Type;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

/** Packets of XCP on TCP: length and counter, two bytes each, then the packet. */
class XcpFrameTest {
    private static DataInputStream in(byte[] bytes) {
        return new DataInputStream(new ByteArrayInputStream(bytes));
    }

    @Property(tries = 300)
    void whatIsWrittenIsRead(@ForAll @Size(min = 1, max = 1_400) byte[] packet, @ForAll @IntRange(min = 0, max = 70_000) int counter)
            throws IOException {
        var out = new ByteArrayOutputStream();
        Xcp.write(out, packet, counter);
        Xcp.write(out, packet, counter + 1);
        assertThat(out.size()).isEqualTo(2 * (packet.length + 4));
        var in = in(out.toByteArray());
        assertThat(Xcp.read(in)).isEqualTo(packet);
        assertThat(Xcp.read(in)).isEqualTo(packet);
        assertThat(Xcp.read(in)).as("the end").isNull();
    }

    @Property(tries = 300)
    void whateverComesInIsAPacketOrRefused(@ForAll @Size(max = 60) byte[] bytes) {
        try {
            var in = in(bytes);
            for (byte[] p = Xcp.read(in); p != null; p = Xcp.read(in)) {
                assertThat(p.length).isBetween(1, 2 * Xcp.MAX_DTO);
            }
        } catch (IOException e) {
            assertThat(e).isInstanceOf(java.io.EOFException.class);
        }
    }

    @Test
    void lengthsThatCannotBeAreRefused() {
        assertThatThrownBy(() -> Xcp.read(in(new byte[] {0, 0, 0, 0, 1}))).isInstanceOf(IOException.class);
        assertThatThrownBy(() -> Xcp.read(in(new byte[] {(byte) 0xFF, (byte) 0xFF, 0, 0, 1}))).isInstanceOf(IOException.class);
        assertThatThrownBy(() -> Xcp.read(in(new byte[] {5, 0, 0, 0, 1}))).as("cut off").isInstanceOf(IOException.class);
    }

    @Property(tries = 200)
    void valuesThereAndBackAreTheSame(@ForAll int bits, @ForAll double v) {
        for (Type t : Type.values()) {
            double value = switch (t) {
                case BOOL -> bits & 1;
                case INT8 -> (byte) bits;
                case UINT8 -> bits & 0xFF;
                case INT16 -> (short) bits;
                case UINT16 -> bits & 0xFFFF;
                case INT32, INT64 -> bits;
                case UINT32, UINT64 -> bits & 0xFFFF_FFFFL;
                case FLOAT32 -> (float) v;
                case FLOAT64 -> v;
            };
            byte[] bytes = XcpClient.encode(t, value);
            assertThat(bytes).hasSize(t.bytes());
            assertThat(XcpClient.decode(ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN), t)).as("%s", t).isEqualTo(value);
        }
    }
}
