package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;

/** The peripherals there are. */
public final class Peripherals {
    private static final Peripherals SHIPPED = new Peripherals(List.of(new AnalogIn(), new AnalogOut(), new PwmOut(), new PwmPairOut(),
            new ThreePhaseOut(), new TripIn(),
            new PulseOut(), new EncoderIn(false), new EncoderIn(true), new CaptureIn(), new DelayIn(), new CounterIn(), new DigitalIn(),
            new DigitalOut(), new EdgeIn(),
            new PacketOut(), new PacketIn(), new RegisterIn(true), new RegisterIn(false), new FrameOut(), new FrameIn(), new Health(),
            new Watchdog()));

    private final Map<TerminalKind, Peripheral> all = new LinkedHashMap<>();

    private Peripherals(List<Peripheral> list) {
        list.forEach(p -> all.put(p.kind(), p));
        ServiceLoader.load(Peripheral.class, Peripherals.class.getClassLoader()).forEach(p -> all.putIfAbsent(p.kind(), p));
    }

    /** Every kind. */
    public static Collection<Peripheral> all() {
        return SHIPPED.all.values();
    }

    public static Peripheral of(TerminalKind kind) {
        return Optional.ofNullable(SHIPPED.all.get(kind)).orElseThrow(() ->
                new IllegalArgumentException("no peripheral for " + kind.label()));
    }

    public static Peripheral of(Terminal t) {
        return of(t.kind());
    }

    /** Every channel of a board that can serve a kind of terminal. */
    public static List<Channel> channels(Board board, TerminalKind kind) {
        return of(kind).channels(board);
    }

    /** The channel with an id that can serve a kind of terminal. */
    public static Optional<Channel> channel(Board board, String id, TerminalKind kind) {
        return channels(board, kind).stream().filter(c -> c.id().equals(id)).findFirst();
    }

    /** The figures that follow from a terminal's place and settings. */
    public static List<Fact> figures(BoardSetup setup, Terminal t) {
        return of(t).figures(setup, t);
    }

    /** The peripheral of a terminal at work; null for one without pins, or whose setting is out of reach. */
    public static PinModel model(BoardSetup setup, Terminal t) {
        // Generated code computes in the part's own precision; on a board with float32 in hardware, double would cost it dearly.
        boolean single = !t.ports().isEmpty() && t.ports().getFirst().slot().type() == Type.FLOAT32;
        return of(t).model(setup, t, single);
    }
}
