package boldanvil.core.program;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.List;
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

    @ParameterizedTest
    @EnumSource(value = Type.class, names = {"BOOL", "FLOAT32", "FLOAT64"}, mode = EnumSource.Mode.EXCLUDE)
    void anIntegerHoldsWhatItsBitsGiveBack(Type type) {
        for (int shift = 0; shift <= 65; shift++) {
            for (long offset = -2; offset <= 2; offset++) {
                for (BigInteger v : List.of(BigInteger.ONE.shiftLeft(shift).add(BigInteger.valueOf(offset)),
                        BigInteger.ONE.shiftLeft(shift).add(BigInteger.valueOf(offset)).negate())) {
                    boolean held = new BigInteger(type.exact(type.wrap(v.longValue())).toString()).equals(v);
                    assertThat(type.holds(v)).as(type + " " + v).isEqualTo(held);
                    if (v.bitLength() < 64) {
                        assertThat(type.holds(v.longValue())).as(type + " " + v).isEqualTo(held);
                    }
                    if (new BigDecimal(v.doubleValue()).toBigInteger().equals(v)) {
                        assertThat(type.holds(v.doubleValue())).as(type + " " + v).isEqualTo(held);
                    }
                }
            }
        }
    }

    @Test
    void anUnknownLabelFindsNothing() {
        assertThat(Type.labelled("float16")).isNull();
    }
}
