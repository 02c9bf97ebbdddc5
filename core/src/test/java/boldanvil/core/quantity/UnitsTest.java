package boldanvil.core.quantity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class UnitsTest {
    @ParameterizedTest
    @CsvSource({"mm, 0.001", "kHz, 1000", "ms, 0.001", "µs, 1e-6", "us, 1e-6", "V, 1", "A, 1", "mA, 0.001", "mH, 0.001", "µH, 1e-6",
        "uH, 1e-6", "kg, 1", "N·m, 1", "rad/s, 1", "V/A, 1", "m/s, 1", "mm/s, 0.001", "kohm, 1000", "Ω, 1", "%, 0.01", "1/s, 1",
        "mm², 1e-6", "cm², 1e-4", "km², 1e6", "mm³, 1e-9", "dm³, 0.001", "mm2, 1e-6", "mm^2, 1e-6", "1/mm², 1e6", "m⁻², 1", "kg·m², 1",
        "g·cm², 1e-7",
        "Nm, 1", "mNm, 0.001", "kNm, 1000", "MΩ, 1e6", "Mohm, 1e6", "bar, 1e5", "mbar, 100", "psi, 6894.757293168361",
        "°, 0.017453292519943295",
        "deg, 0.017453292519943295", "turn, 6.283185307179586", "L, 0.001", "mL, 1e-6", "L/min, 1.6666666666666667e-5", "Ah, 3600",
        "mAh, 3.6", "kWh, 3.6e6",
        "ppm, 1e-6", "krpm, 104.71975511965978", "rpm, 0.10471975511965978", "V/(rad/s), 1", "W/(m·K), 1", "V/krpm, 0.00954929658551372",
        "K/W, 1",
        "m/s², 1", "N·m·s/rad, 1", "µs, 1e-6", "min, 60", "h, 3600", "km/h, 0.2777777777777778"})
    void unitsAreFactorsToSi(String unit, double factor) {
        assertThat(Units.find(unit)).as(unit).isPresent();
        assertThat(Units.find(unit).orElseThrow().factor()).isCloseTo(factor, within(1e-12 * factor));
    }

    @ParameterizedTest
    @CsvSource({"N·m, J", "V/A, Ω", "W, V·A", "N/m², Pa", "C/s, A", "Wb/A, H", "V·s, Wb", "kg·m/s², N", "1/s, Hz", "rpm, rad/s", "Ah, C",
            "kWh, J", "bar, Pa", "L, m³", "dB, 1", "ppm, 1"})
    void unitsOfOneKindFit(String a, String b) {
        assertThat(Dimension.of(a).orElseThrow()).isEqualTo(Dimension.of(b).orElseThrow());
    }

    @ParameterizedTest
    @CsvSource({"mm², m²", "V/(rad/s), Wb", "K/W, 's³·K/(kg·m²)'", "V/√, ''", "1/s, 1/s", "deg, ''"})
    void aKindHasAnSiUnitInWords(String unit, String si) {
        Dimension.of(unit).ifPresent(d -> assertThat(d.unit()).isEqualTo(si));
    }

    @Test
    void noUnitIsThePureNumber() {
        assertThat(Units.find("").orElseThrow()).isEqualTo(Unit.ONE);
        assertThat(Units.isUnit("")).isTrue();
    }

    @ParameterizedTest
    @ValueSource(strings = {"flurb", "m^2147483", "m^-", "m/", "(m", "m)", "V/(", "mmm", "kmin", "m2m", "counts", "V A"})
    void whatIsNotAUnitIsRefused(String text) {
        assertThat(Units.isUnit(text)).isFalse();
    }

    @Test
    void temperaturesHaveTheirOwnZeroAndTheirDifferencesHaveNot() {
        Unit c = Units.find("°C").orElseThrow();
        assertThat(c.toSi(20)).isCloseTo(293.15, within(1e-12));
        assertThat(c.fromSi(273.15)).isZero();
        assertThat(c.differenceFromSi(5)).isEqualTo(5);
        assertThat(Units.find("W/°C").orElseThrow().toSi(2)).isEqualTo(2);
    }

    @Test
    void decibelsAreLevelsOfAmplitudes() {
        Unit db = Units.find("dB").orElseThrow();
        assertThat(db.toSi(20)).isCloseTo(10, within(1e-12));
        assertThat(db.fromSi(0.1)).isCloseTo(-20, within(1e-12));
    }
}
