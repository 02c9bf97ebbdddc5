package boldanvil.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.samples.Column;
import boldanvil.core.samples.SampleStore;
import java.util.List;
import org.junit.jupiter.api.Test;

class TriggeredViewTest {
    private final SampleStore store = new SampleStore(List.of(new Column("x", "")));
    private final TriggeredView view = new TriggeredView();
    private double now;

    /** Goes on with a pulse of 0.1 s at each whole second, or with none. */
    private double on(double seconds, boolean pulses) {
        for (double until = now + seconds; now < until - 1e-9; now += 1e-3) {
            store.add(0, now, pulses && now % 1 < 0.1 && now > 0.5 ? 1 : 0);
        }
        return view.update(store, 0.5);
    }

    private void set(TriggeredView.Mode mode) {
        view.set(mode, Trigger.edge(Trigger.Kind.RISING, 0.5, 0.1), 0, 0.2);
        view.update(store, 0.5);
    }

    @Test
    void freeFollowsTheNewestSample() {
        assertThat(on(2, true)).isCloseTo(2, within(2e-3));
        assertThat(view.isWaiting()).isFalse();
    }

    @Test
    void normalShowsTheNewestTriggerAndWhatCameBefore() {
        on(0.2, true);
        set(TriggeredView.Mode.NORMAL);
        assertThat(view.isWaiting()).isTrue();
        // A pulse at 1 s: with a fifth of the span before it, the picture ends 0.4 s behind it.
        assertThat(on(1.3, true)).isCloseTo(1.4, within(2e-3));
        assertThat(view.trigger()).isCloseTo(1, within(2e-3));
        assertThat(on(0.4, true)).isCloseTo(1.4, within(2e-3));
        assertThat(on(0.7, true)).isCloseTo(2.4, within(2e-3));
        assertThat(on(3, false)).isCloseTo(2.4, within(2e-3));
    }

    @Test
    void singleStaysAtTheFirst() {
        on(0.2, true);
        set(TriggeredView.Mode.SINGLE);
        assertThat(on(4, true)).isCloseTo(1.4, within(2e-3));
        view.arm();
        view.update(store, 0.5);
        assertThat(view.isWaiting()).isTrue();
        assertThat(on(2, true)).isCloseTo(5.4, within(2e-3));
    }

    @Test
    void autoGoesOnByItselfWhereNothingTriggers() {
        on(0.2, false);
        set(TriggeredView.Mode.AUTO);
        assertThat(on(1, false)).isCloseTo(1.2, within(2e-3));
        assertThat(on(1.3, true)).isCloseTo(2.4, within(2e-3));
        assertThat(on(3, false)).isCloseTo(5.5, within(2e-3));
    }

    @Test
    void aRunThatBeginsAnewArmsItAgain() {
        on(0.2, true);
        set(TriggeredView.Mode.SINGLE);
        on(2, true);
        var fresh = new SampleStore(List.of(new Column("x", "")));
        fresh.add(0, 0, 0);
        view.update(fresh, 0.5);
        assertThat(view.isWaiting()).isTrue();
    }
}
