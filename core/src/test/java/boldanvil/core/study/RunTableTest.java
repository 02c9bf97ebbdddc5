package boldanvil.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.study.RunTable.Column;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RunTableTest {
    private static RunTable table() {
        var t = new RunTable(List.of(new Column("gain", "", "", true), new Column("drive.position", "maximum", "mm", false)));
        for (int i = 0; i < 100; i++) {
            t.add(new double[] {i, i == 7 ? Double.NaN : i * 1e-3}, i == 7 ? "It stopped." : "");
        }
        return t;
    }

    @Test
    void rowsAndColumnsHoldWhatWasAdded() {
        var t = table();
        assertThat(t.size()).isEqualTo(100);
        assertThat(t.values(0)).hasSize(100).startsWith(0, 1, 2);
        assertThat(t.value(42, 1)).isEqualTo(0.042);
        assertThat(t.note(7)).isEqualTo("It stopped.");
        assertThat(t.note(8)).isEmpty();
        assertThat(t.notes()).isEqualTo(1);
        assertThat(t.point(5)).isEqualTo(Map.of("gain", 5.0));
        assertThat(t.find("drive.position MAXIMUM")).hasValue(1);
        assertThat(t.find("nothing")).isEmpty();
        assertThat(t.indices(true)).containsExactly(0);
        assertThatThrownBy(() -> t.value(100, 0)).isInstanceOf(IndexOutOfBoundsException.class);
        assertThatThrownBy(() -> t.add(new double[3], "")).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void aLineOfCsvIsInTheUnitsOfTheHead() {
        var t = table();
        assertThat(RunTable.csvHead(t.columns())).isEqualTo("gain,drive.position maximum [mm]");
        assertThat(RunTable.csvLine(t.columns(), new double[] {4, 0.5})).isEqualTo("4.0,500.0");
    }

    @Test
    void aLimitIsKeptUpToItsValueAndNeverWithoutOne() {
        boolean[] good = new Criterion(1, true, 0.05).of(table());
        assertThat(good[50]).isTrue();
        assertThat(good[51]).isFalse();
        assertThat(good[7]).isFalse();
        assertThat(new Criterion(1, false, 0.05).of(table())[49]).isFalse();
    }

    /** Intervals after Wilson, from the formula worked out by hand for few runs. */
    @ParameterizedTest
    @CsvSource({"0, 10, 0, 0, 0.2775", "10, 10, 1, 0.7225, 1", "5, 10, 0.5, 0.2366, 0.7634", "81, 263, 0.3080, 0.2553, 0.3662"})
    void aShareHasTheIntervalOfWilson(int hits, int of, double share, double low, double high) {
        var p = Proportion.of(hits, of);
        assertThat(p.share()).isCloseTo(share, within(1e-4));
        assertThat(p.low()).isCloseTo(low, within(1e-4));
        assertThat(p.high()).isCloseTo(high, within(1e-4));
    }
}
