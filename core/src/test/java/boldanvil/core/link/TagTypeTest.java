package boldanvil.core.link;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

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
    void namesOfOtherToolsAreTypesAsFarAsTheyCanBe() {
        assertThat(TagType.named("string(80)")).contains(TagType.STRING);
        assertThat(TagType.named("int (0..7)")).contains(TagType.INT);
        assertThat(TagType.named("LWORD")).contains(TagType.ULINT);
        assertThat(TagType.named("TON")).isEmpty();
        assertThat(TagType.LREAL.number(1.5)).isEqualTo(1.5);
        assertThatThrownBy(() -> TagType.LINT.number(0.5)).isInstanceOf(IllegalArgumentException.class);
    }
}
