package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FiguresTest {
    @Test
    void thingsAreCountedInTheSingularAndThePlural() {
        assertThat(Figures.count(0, "overrun")).isEqualTo("0 overruns");
        assertThat(Figures.count(1, "overrun")).isEqualTo("1 overrun");
        assertThat(Figures.count(2, "overrun")).isEqualTo("2 overruns");
    }

    @ParameterizedTest
    @CsvSource({"0, 0", "-0.0, 0", "1500, 1500", "0.1, 0.1", "1e-9, 1e-09", "1234567, 1.23457e+06", "NaN, –", "Infinity, ∞",
            "-Infinity, −∞", "2.50, 2.5"})
    void figuresHaveNoZerosAtTheEnd(double v, String text) {
        assertThat(Figures.text(v)).isEqualTo(text);
    }

    @ParameterizedTest
    @CsvSource({"0, 0 s", "2e-9, 2 ns", "3.5e-6, 3.5 µs", "0.02, 20 ms", "1.5, 1.5 s", "-0.02, -20 ms", "NaN, –"})
    void timesHaveThePrefixThatSuitsThem(double v, String text) {
        assertThat(Figures.seconds(v)).isEqualTo(text);
    }

    @ParameterizedTest
    @CsvSource({"157.07963267948966, rpm, 1500 rpm", "293.15, °C, 20 °C", "0.5, mm, 500 mm", "2, '', 2", "1, deg, 57.2958 deg"})
    void siValuesAreShownInTheirUnit(double si, String unit, String text) {
        assertThat(Figures.text(si, 6, unit)).isEqualTo(text);
    }
}
