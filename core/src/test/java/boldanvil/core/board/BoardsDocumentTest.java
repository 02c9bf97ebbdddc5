package boldanvil.core.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.Place;
import boldanvil.core.peripheral.PinMath;
import boldanvil.core.quantity.Formula;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Each row of docs/boards.md: what the program computes, what the formula of the hardware gives, and what the document says are one number.
 */
class BoardsDocumentTest {
    static Stream<List<String>> rows() throws IOException {
        return Files.readAllLines(Path.of("../docs/boards.md")).stream().filter(l -> l.startsWith("| swage32 ")
                || l.startsWith("| clinker16 "))
                .map(l -> Stream.of(l.split("\\|")).map(String::strip).skip(1).toList());
    }

    @ParameterizedTest
    @MethodSource("rows")
    void askedFormulaAndReachedAgree(List<String> row) {
        var board = Boards.shipped().require(Place.named("here"), row.getFirst());
        double byProgram = reached(board, row.get(1), row.get(2));
        double byFormula = Formula.evaluate(row.get(3), Map.of());
        assertThat(byProgram).isCloseTo(byFormula, within(1e-9 * byFormula));
        String[] words = row.get(4).split(" ");
        double factor = words.length < 2 ? 1 : switch (words[1]) {
            case "ns" -> 1e9;
            case "ms", "mV" -> 1e3;
            default -> 1;
        };
        double stated = Double.parseDouble(words[0]);
        double lastDigit = words[0].contains(".") ? Math.pow(10, words[0].indexOf('.') - words[0].length() + 1) : 1;
        assertThat(stated).isCloseTo(byProgram * factor, within(lastDigit / 2 * 1.01));
    }

    private static double value(String text) {
        return Formula.evaluate(text, Map.of());
    }

    private static double reached(Board board, String figure, String asked) {
        var clock = ClockSetting.solve(board.clock(), "", Map.of());
        var pwmTimer = board.timers().getFirst();
        String[] words = asked.split(" (?=edge|centre|at|from)");
        double first = value(words[0]);
        return switch (figure) {
            case "PWM frequency" -> PinMath.pwm(pwmTimer, clock.hertz("timers"), first, words[1].equals("centre")).hertz();
            case "PWM resolution" -> PinMath.pwm(pwmTimer, clock.hertz("timers"), first, words[1].equals("centre")).bits();
            case "PWM dead time" -> PinMath.deadTime(pwmTimer.deadTime(), clock.hertz("timers"), first).seconds();
            case "ADC count" -> new PinMath.Scale(board.converters().getFirst().bits(), first).voltsPerCount();
            case "ADC conversion" -> PinMath.sampling(board.converters().getFirst(), clock.hertz("converters"), first).seconds();
            case "UART rate" -> PinMath.baud(board.serialPorts().getFirst(), clock.hertz("serial"), first).reached();
            case "CAN rate" -> PinMath.can(board.cans().getFirst(), clock.hertz("serial"), first).bitsPerSecond();
            case "encoder counts" -> 2 * Math.PI / PinMath.radiansPerCount(first);
            case "encoder speed step" -> PinMath.radiansPerCount(first) / value(words[1].substring(3));
            case "capture step" -> 1 / PinMath.capture(board.timers().stream().filter(t -> t.uses().contains("capture")).findFirst()
                    .orElseThrow(), clock.hertz("timers"),
                    value(words[1].substring(5))).tickHertz();
            case "watchdog" -> PinMath.watchdog(board.watchdog(), first).seconds();
            default -> throw new IllegalArgumentException(figure);
        };
    }
}
