package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Conversions of IEC 61131-3 (6.6.2.5.5), held against the arithmetic of Java. */
class ConversionLawsTest {
    /** A type, its bits, and whether it has a sign. */
    private record Kind(String name, int bits, boolean signed) {
        long wrap(long v) {
            long low = bits == 64 ? v : v & (1L << bits) - 1;
            return signed && (low & 1L << bits - 1) != 0 ? low - (1L << bits) : low;
        }

        String literal(long v) {
            return name + "#" + v;
        }
    }

    private static final List<Kind> BITS = List.of(new Kind("BYTE", 8, false), new Kind("WORD", 16, false), new Kind("DWORD", 32, false));
    private static final List<Kind> INTEGERS = List.of(new Kind("SINT", 8, true), new Kind("USINT", 8, false), new Kind("INT", 16, true),
            new Kind("UINT", 16, false), new Kind("DINT", 32, true),
            new Kind("UDINT", 32, false));

    /** What several expressions of one type come to, each read through its bits as a number. */
    private static List<Double> values(List<String> expressions, List<Kind> types) {
        var text = new StringBuilder("VAR_OUTPUT ");
        for (int i = 0; i < expressions.size(); i++) {
            text.append('y').append(i).append(" : LREAL; ");
        }
        text.append("END_VAR VAR ");
        for (int i = 0; i < expressions.size(); i++) {
            text.append('x').append(i).append(" : ").append(types.get(i).name()).append("; ");
        }
        text.append("END_VAR ");
        for (int i = 0; i < expressions.size(); i++) {
            boolean bits = BITS.contains(types.get(i));
            String number = bits ? "UDINT_TO_LREAL(" + types.get(i).name() + "_TO_UDINT(x" + i + "))"
                    : types.get(i).name() + "_TO_LREAL(x" + i + ")";
            text.append('x').append(i).append(" := ").append(expressions.get(i)).append("; y").append(i).append(" := ").append(number)
                    .append("; ");
        }
        var b = new PartBuilder("p").block("f", "st", "text=" + text);
        for (int i = 0; i < expressions.size(); i++) {
            b.block("y" + i, "outlet").wire("f.y" + i, "y" + i + ".u");
        }
        assertThat(b.lower().findings()).as("%s", text).isEmpty();
        var s = Stepper.of(b);
        s.step();
        List<Double> all = new ArrayList<>();
        for (int i = 0; i < expressions.size(); i++) {
            all.add(s.out("y" + i));
        }
        return all;
    }

    private static void assertSame(List<String> expressions, List<Kind> types, List<Double> wanted) {
        List<Double> got = values(expressions, types);
        for (int i = 0; i < wanted.size(); i++) {
            assertThat(got.get(i)).as(expressions.get(i)).isEqualTo(wanted.get(i));
        }
    }

    @Test
    void bitStringsBecomeIntegersBitByBit() {
        var random = new Random(1);
        List<String> expressions = new ArrayList<>();
        List<Kind> types = new ArrayList<>();
        List<Double> wanted = new ArrayList<>();
        for (Kind from : BITS) {
            for (Kind to : INTEGERS) {
                for (long v : List.of(0L, 1L, (1L << from.bits() - 1), (1L << from.bits()) - 1, random.nextLong(1L << from.bits()))) {
                    expressions.add(from.name() + "_TO_" + to.name() + "(" + from.literal(v) + ")");
                    types.add(to);
                    wanted.add((double) to.wrap(v));
                }
            }
        }
        assertSame(expressions, types, wanted);
    }

    @Test
    void integersBecomeBitStringsBitByBit() {
        var random = new Random(2);
        List<String> expressions = new ArrayList<>();
        List<Kind> types = new ArrayList<>();
        List<Double> wanted = new ArrayList<>();
        for (Kind from : INTEGERS) {
            for (Kind to : BITS) {
                long low = from.signed() ? -(1L << from.bits() - 1) + 1 : 0;
                for (long v : List.of(low, 0L, 1L, from.wrap(random.nextLong()) | 1)) {
                    expressions.add(from.name() + "_TO_" + to.name() + "(" + from.literal(v) + ")");
                    types.add(to);
                    // The bits lie at the right end; the others are 0, also for a negative number.
                    wanted.add((double) to.wrap(v & (1L << from.bits()) - 1));
                }
            }
        }
        assertSame(expressions, types, wanted);
    }

    @Test
    void bitStringsAreCutOrFilledWithZeros() {
        List<String> expressions = new ArrayList<>();
        List<Kind> types = new ArrayList<>();
        List<Double> wanted = new ArrayList<>();
        for (Kind from : BITS) {
            for (Kind to : BITS) {
                if (from.bits() != to.bits()) {
                    long v = 0x9ABCDEF1L & (1L << from.bits()) - 1;
                    expressions.add(from.name() + "_TO_" + to.name() + "(" + from.literal(v) + ")");
                    types.add(to);
                    wanted.add((double) to.wrap(v));
                }
            }
        }
        assertSame(expressions, types, wanted);
    }

    @Test
    void numbersThereAndBackInDecimalDigitsAreTheSame() {
        List<String> expressions = new ArrayList<>();
        List<Kind> types = new ArrayList<>();
        List<Double> wanted = new ArrayList<>();
        Kind uint = INTEGERS.get(3);
        for (int v : new int[] {0, 9, 10, 99, 1234, 9999}) {
            expressions.add("WORD_BCD_TO_UINT(UINT_TO_BCD_WORD(UINT#" + v + "))");
            types.add(uint);
            wanted.add((double) v);
        }
        assertSame(expressions, types, wanted);
    }

    private static double time(String expression) {
        var b = new PartBuilder("p").block("f", "st", "text=VAR_OUTPUT y : BOOL; END_VAR y := " + expression + ";").block("y", "outlet")
                .wire("f.y", "y.u");
        assertThat(b.lower().findings()).as(expression).isEmpty();
        var s = Stepper.of(b);
        s.step();
        return s.out("y");
    }

    @ParameterizedTest
    @ValueSource(strings = {"T#100ms + T#200ms = T#300ms", "T#1s - T#900ms = T#100ms", "T#0.1s * 3 = T#300ms", "T#1m30s = T#90s",
            "T#1d = T#24h", "T#300ms / 3 = T#100ms", "T#1us * 1000 = T#1ms",
        "T#100ms < T#100.001ms", "T#1h - T#3600s = T#0s", "MAX(T#1s, T#999ms) = T#1s"})
    void timesAreExact(String expression) {
        assertThat(time(expression)).as(expression).isEqualTo(1);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"LIMIT(MX := 10, IN := 12, MN := 0) | 10", "LIMIT(IN := -3, MN := 0, MX := 10) | 0",
            "LIMIT(MN := 0, IN := 5, MX := 10) | 5", "SEL(IN1 := 2, G := TRUE, IN0 := 1) | 2",
        "SEL(G := FALSE, IN1 := 2, IN0 := 1) | 1", "MUX(K := 1, IN0 := 10, IN1 := 20) | 20"})
    void namedArgumentsCountByTheirNames(String expression, double wanted) {
        assertThat(values(List.of(expression), List.of(INTEGERS.get(4)))).containsExactly(wanted);
    }

    @ParameterizedTest
    @ValueSource(strings = {"FOO_TO_DINT(1)", "DINT_TO_FOO(1)", "TO_FOO(1)", "WORD_TO_TIMELESS(WORD#1)", "_TO_DINT(1)"})
    void conversionsOfTypesThatThereAreNotAreRefused(String expression) {
        var b = new PartBuilder("p").block("f", "st", "text=VAR_OUTPUT y : DINT; END_VAR y := " + expression + ";").block("y", "outlet")
                .wire("f.y", "y.u");
        assertThat(b.lower().findings()).anyMatch(boldanvil.core.finding.Finding::isError);
    }
}
