package boldanvil.core.quantity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UnitsTest {
    @ParameterizedTest
    @CsvSource({"mm, 0.001", "kHz, 1000", "ms, 0.001", "µs, 1e-6", "us, 1e-6", "V, 1", "A, 1", "mA, 0.001", "mH, 0.001", "µH, 1e-6",
        "uH, 1e-6", "kg, 1", "N·m, 1", "rad/s, 1", "V/A, 1", "m/s, 1", "mm/s, 0.001", "kohm, 1000", "Ω, 1", "%, 0.01", "1/s, 1"})
    void unitsAreFactorsToSi(String unit, double factor) {
        assertThat(Units.toSi(unit)).isCloseTo(factor, within(1e-12 * factor));
    }

    @Test
    void noUnitIsThePureNumber() {
        assertThat(Units.toSi("")).isEqualTo(1);
        assertThat(Units.isUnit("")).isTrue();
    }

    @Test
    void whatIsNoUnitIsRefused() {
        assertThat(Units.isUnit("flurb")).isFalse();
        assertThatThrownBy(() -> Units.toSi("flurb")).hasMessageContaining("not a unit");
    }

    @Test
    void aUnitWithItsOwnZeroIsRefused() {
        assertThatThrownBy(() -> Units.toSi("°C")).hasMessageContaining("zero point");
    }
}
