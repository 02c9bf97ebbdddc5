package boldanvil.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Type;
import boldanvil.core.samples.RunData;
import boldanvil.core.target.TargetLog.Keep;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class TargetLogTest {
    private static Tap tap(Type type) {
        Slot slot = mock(Slot.class);
        when(slot.type()).thenReturn(type);
        Tap tap = mock(Tap.class);
        when(tap.slot()).thenReturn(slot);
        when(tap.name()).thenReturn("t" + type);
        when(tap.unit()).thenReturn("");
        return tap;
    }

    private static final List<Tap> TAPS = Arrays.stream(new Type[] {Type.FLOAT64, Type.FLOAT32, Type.BOOL, Type.INT16, Type.UINT32})
            .map(TargetLogTest::tap).toList();
    private static final int ROW = 8 + 8 + 4 + 1 + 2 + 4;

    private final Instance part = mock(Instance.class);

    private void value(double v) {
        when(part.get(any())).thenReturn(v);
        when(part.whole(any(), anyInt())).thenReturn((long) v);
    }

    private RunData all(TargetLog log) {
        var bytes = new java.io.ByteArrayOutputStream();
        for (byte[] some = log.read(0, 7); some.length > 0; some = log.read(bytes.size() / ROW, 7)) {
            bytes.writeBytes(some);
        }
        return TargetLog.decode("p", TAPS, bytes.toByteArray());
    }

    private TargetLog logged(int steps, int every, Keep keep, long bytes) {
        var log = new TargetLog(TAPS, every, keep, bytes);
        for (int i = 0; i < steps; i++) {
            value(i);
            log.step(i, i * 1e-3, part);
        }
        return log;
    }

    @Test
    void rowsComeBackWithTheirTypes() {
        var log = logged(100, 1, Keep.FIRST, 1 << 20);
        assertThat(TargetLog.rowBytes(TAPS)).isEqualTo(ROW);
        var data = all(log);
        assertThat(data.series()).extracting(s -> s.name()).first().isEqualTo("p.tFLOAT64");
        assertThat(data.series().get(0).times()[99]).isEqualTo(0.099);
        assertThat(data.series().get(0).values()[99]).isEqualTo(99);
        assertThat(data.series().get(3).values()[99]).isEqualTo(99);
        assertThat(log.fullSeconds()).isNaN();
    }

    @Test
    void unsignedValuesStayPositive() {
        var log = new TargetLog(TAPS, 1, Keep.FIRST, 1 << 20);
        when(part.whole(any(), anyInt())).thenReturn(0xFFFF_FFFFL);
        log.step(0, 0, part);
        assertThat(all(log).series().get(4).values()).containsExactly(4_294_967_295.0);
        assertThat(all(log).series().get(3).values()).containsExactly(-1);
    }

    /** What is kept of some steps in a memory of some rows, against a plain list. */
    @Property(tries = 60)
    void aFullMemoryKeepsTheFirstOrTheLastRows(@ForAll @IntRange(max = 300) int steps, @ForAll @IntRange(min = 1, max = 80) int rows,
            @ForAll @IntRange(min = 1, max = 4) int every, @ForAll boolean last) {
        var log = logged(steps, every, last ? Keep.LAST : Keep.FIRST, (long) rows * ROW + ROW - 1);
        List<Double> expected = new ArrayList<>();
        for (int i = 0; i < steps; i += every) {
            expected.add((double) i);
        }
        boolean full = expected.size() > rows;
        assertThat(Double.isNaN(log.fullSeconds())).isEqualTo(!full);
        if (full) {
            assertThat(log.fullSeconds()).isEqualTo(expected.get(rows) * 1e-3);
            expected = last ? expected.subList(expected.size() - rows, expected.size()) : expected.subList(0, rows);
        }
        assertThat(log.rows()).isEqualTo(expected.size());
        assertThat(all(log).series().getFirst().values()).containsExactly(expected.stream().mapToDouble(d -> d).toArray());
    }

    @Test
    void anEndedLogTakesNoMore() {
        var log = logged(10, 1, Keep.LAST, 1 << 20);
        log.end();
        log.step(10, 1, part);
        assertThat(log.rows()).isEqualTo(10);
    }

    @Test
    void withoutRoomForARowNothingIsLogged() {
        var log = logged(10, 1, Keep.LAST, ROW - 1);
        assertThat(log.capacity()).isZero();
        assertThat(log.rows()).isZero();
        assertThat(log.read(0, 5)).isEmpty();
    }
}
