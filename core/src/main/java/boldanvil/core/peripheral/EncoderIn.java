package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;

/** An incremental encoder, with an index track or without. */
final class EncoderIn extends Counting {
    private final boolean indexed;

    EncoderIn(boolean indexed) {
        super(indexed ? TerminalKind.INDEXED_ENCODER_IN : TerminalKind.ENCODER_IN);
        this.indexed = indexed;
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "encoder").filter(t -> !indexed || !t.index().isEmpty()).map(t -> TimerChannels.whole(t, kind(),
                indexed ? TimerChannels.ways(List.of(TimerChannels.pairs(t), t.index())) : TimerChannels.pairs(t))).toList();
    }

    @Override
    public String pinRole(int pin) {
        return List.of(" A", " B", " index").get(pin);
    }

    @Override
    public void check(PatchReport report, Terminal t) {
        double made = report.setup().filter(t);
        if (t.number("filter") > 0 && made < t.number("filter") * (1 - 1e-9)) {
            report.warning("The timer's longest filter is " + Fact.sig(made * 1e9) + " ns.",
                    "Choose a shorter filter, or filter externally.");
        }
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        List<Fact> facts = new ArrayList<>();
        double tick = setup.program().tickSeconds();
        double rpc = PinMath.radiansPerCount(t.number("lines"));
        facts.add(Fact.of("counts per turn", 4 * t.number("lines"), ""));
        facts.add(Fact.of("resolution", rpc * 1e3, "mrad"));
        facts.add(Fact.of("speed step", rpc / tick, "rad/s"));
        setup.timer(t).ifPresent(x -> {
            facts.add(Fact.of("counter wraps after", (x.top() + 1) * rpc / (2 * Math.PI), "turns"));
            facts.add(Fact.of("maximum between ticks", (x.top() + 1) / 2 * rpc / tick, "rad/s"));
        });
        double filter = setup.filter(t);
        if (filter > 0) {
            facts.add(Fact.of("glitch filter", filter * 1e9, "ns"));
            facts.add(Fact.of("fastest through it", rpc / filter, "rad/s"));
        }
        return facts;
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new Model(t.number("lines"), setup.filter(t), setup.program().tickSeconds(), indexed, single);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int timer = setup.board().timerNumber(setup.channel(t).orElseThrow());
        return indexed ? new int[] {Registers.ENCODER + timer, Registers.INDEX_FOUND + timer, Registers.INDEX_AT + timer}
                : new int[] {Registers.ENCODER + timer};
    }

    @Override
    String counter(BoardCode c, Terminal x) {
        return "board_encoder_read(" + c.timer(x) + "U)";
    }

    @Override
    public void members(BoardCode c, Terminal x) {
        super.members(c, x);
        if (indexed) {
            c.text().line("int32_t zero_" + c.timer(x) + ";").line("bool found_" + c.timer(x) + ";");
        }
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        c.text().line("board_encoder_setup(" + c.timer(x) + "U, " + Math.round(c.setup().filter(x) * 1e9) + "U);" + c.where(x));
        super.setUp(c, x);
        if (indexed) {
            c.text().line("board.zero_" + c.timer(x) + " = 0;").line("board.found_" + c.timer(x) + " = false;");
        }
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        int unit = c.timer(x);
        var t = c.text();
        count(c, x);
        String count = "board.count_" + unit;
        if (indexed) {
            t.line("uint32_t at;").open("if (!board.found_" + unit + " && board_encoder_index(" + unit + "U, &at)) {")
                    .line("board.found_" + unit + " = true;")
                    .line("board.zero_" + unit + " = board.count_" + unit + " - moved(now, at, " + top(c, x) + ");").close("}");
            count = "(board.count_" + unit + " - board.zero_" + unit + ")";
            c.set(x.ports().get(1), "(uint8_t)(board.found_" + unit + " ? 2 : 1)");
        }
        t.line(BoardCode.access(x.ports().getFirst()) + " = " + BoardCode.scaled(x.ports().getFirst(), count,
                PinMath.radiansPerCount(x.number("lines"))) + ";").close("}");
    }

    /**
     * Total count, whether the index was seen, and the count at which it was first. What the filter does not let through is not
     * counted: a count stays away while the shaft is faster than it allows. The index stands at every full turn.
     */
    private static final class Model extends PinModel {
        private final double lines;
        private final double mostPerTick;
        private final boolean indexed;
        private final boolean single;
        private boolean first = true;
        private long last;
        private long lost;
        private boolean found;
        private long at;

        Model(double lines, double filterSeconds, double tickSeconds, boolean indexed, boolean single) {
            this.lines = lines;
            this.indexed = indexed;
            this.single = single;
            mostPerTick = filterSeconds > 0 ? Math.floor(tickSeconds / filterSeconds) : Double.POSITIVE_INFINITY;
        }

        @Override
        public void init() {
            first = true;
            last = 0;
            lost = 0;
            found = false;
            at = 0;
        }

        @Override
        public void save(Kept to) {
            to.put(first ? 1 : 0).put(last).put(lost).put(found ? 1 : 0).put(at);
        }

        @Override
        public void restore(Kept from) {
            first = from.number() != 0;
            last = (long) from.number();
            lost = (long) from.number();
            found = from.number() != 0;
            at = (long) from.number();
        }

        @Override
        public long[] counts(double[] angle) {
            long now = PinMath.encoderCount(lines, angle[0]);
            long turn = Math.round(4 * lines);
            if (!first) {
                long moved = now - last;
                if (Math.abs(moved) > mostPerTick) {
                    lost += moved;
                }
                long before = Math.floorDiv(last, turn);
                long after = Math.floorDiv(now, turn);
                if (before != after && !found) {
                    found = true;
                    at = Math.max(before, after) * turn - lost;
                    // Going down, the index stands at the upper edge of the turn that was entered.
                }
            }
            first = false;
            last = now;
            return indexed ? new long[] {now - lost, found ? 1 : 0, at} : new long[] {now - lost};
        }

        @Override
        public double[] signals(long[] counts) {
            long count = counts[0] - (indexed ? counts[2] : 0);
            double rpc = PinMath.radiansPerCount(lines);
            double angle = single ? (float) count * (float) rpc : count * rpc;
            return indexed ? new double[] {angle, counts[1] == 0 ? 1 : 2} : new double[] {angle};
        }
    }
}
