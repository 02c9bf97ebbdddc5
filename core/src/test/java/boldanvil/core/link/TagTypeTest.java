package boldanvil.core.link;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TagTypeTest {
    @ParameterizedTest
    @CsvSource({"SINT, -128, 127", "USINT, 0, 255", "INT, -32768, 32767", "WORD, 0, 65535", "DINT, -2147483648, 2147483647",
        "UDINT, 0, 4294967295"})
    void anIntegerHasItsRangeAndNothingBetween(TagType type, long least, long most) {
        assertThat(type.number(least)).isEqualTo(least);
        assertThat(type.number((double) most)).isEqualTo((double) most);
        assertThatThrownBy(() -> type.number(most + 1)).hasMessage("a " + type + " does not have the value " + (most + 1));
        assertThatThrownBy(() -> type.number(least - 1)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> type.number(1.5)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> type.number("one")).hasMessage("a " + type + " is a number");
    }

    @Test
    void anIntegerOf64BitsTakesItsLastValueAndNotTheNext() {
        var most = BigInteger.ONE.shiftLeft(64).subtract(BigInteger.ONE);
        assertThat(TagType.ULINT.number(most)).isEqualTo(most);
        assertThatThrownBy(() -> TagType.ULINT.number(most.add(BigInteger.ONE))).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> TagType.ULINT.number(-1L)).hasMessage("a ULINT does not have the value -1");
        assertThat(TagType.LINT.number(Long.MIN_VALUE)).isEqualTo(Long.MIN_VALUE);
        assertThatThrownBy(() -> TagType.LINT.number(BigInteger.ONE.shiftLeft(63))).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> TagType.LINT.number(0x1p63)).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void whatLiesOutsideBecomesTheNearestValue() {
        assertThat(TagType.ULINT.nearest(-2)).isEqualTo(0L);
        assertThat(TagType.ULINT.nearest(1e30)).isEqualTo(new BigInteger("18446744073709551615"));
        assertThat(TagType.LINT.nearest(1e30)).isEqualTo(Long.MAX_VALUE);
        assertThat(TagType.USINT.nearest(254.6)).isEqualTo(255L);
        assertThat(TagType.INT.nearest(Double.NaN)).isEqualTo(0L);
    }

    @Test
    void namesOfOtherToolsAreTypesAsFarAsTheyCanBe() {
        assertThat(TagType.named("string(80)")).contains(TagType.STRING);
        assertThat(TagType.named("int (0..7)")).contains(TagType.INT);
        assertThat(TagType.named("LWORD")).contains(TagType.ULINT);
        assertThat(TagType.named("TON")).isEmpty();
        assertThat(TagType.LREAL.number(1.5)).isEqualTo(1.5);
        assertThatThrownBy(() -> TagType.LINT.number(0.5)).isInstanceOf(IllegalArgumentException.class);
    }
}
