package boldanvil.core.program;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

class TypeTest {
    @ParameterizedTest
    @CsvSource({
        "INT32, 2.9, 2", "INT32, -2.9, -2", "INT32, 3e9, 2147483647", "INT32, -3e9, -2147483648", "INT32, NaN, 0",
        "UINT16, -1, 0", "UINT16, 70000, 65535", "UINT16, 12.7, 12", "UINT16, NaN, 0",
        "BOOL, 0, 0", "BOOL, -3, 1", "BOOL, NaN, 1", "FLOAT32, 0.1, 0.10000000149011612", "FLOAT64, 0.1, 0.1"})
    void conversionTruncatesAndSaturates(Type type, double from, double to) {
        assertThat(type.convert(from)).isEqualTo(to);
    }

    @ParameterizedTest
    @EnumSource(Type.class)
    void conversionTwiceIsConversionOnce(Type type) {
        for (double v : new double[] {0, 1, -1, 0.3, 1e10, -1e10, 65535, 65536}) {
            assertThat(type.convert(type.convert(v))).isEqualTo(type.convert(v));
        }
    }

    @ParameterizedTest
    @EnumSource(Type.class)
    void labelsFindTheirType(Type type) {
        assertThat(Type.labelled(type.label())).as("sheets have no integers of 64 bits").isEqualTo(type.isWide() ? null : type);
    }

    @Test
    void anUnknownLabelFindsNothing() {
        assertThat(Type.labelled("float16")).isNull();
    }
}
