package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.random.RandomGenerator;
import java.util.stream.Collectors;

/** An input of a converter. */
final class AnalogIn extends Peripheral {
    AnalogIn() {
        super(TerminalKind.ANALOG_IN);
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.converters().stream().flatMap(c -> c.channels().stream()
                .map(x -> new Channel(c.name() + "." + x.id(), kind(), c.name(), x.pins()))).toList();
    }

    /** On the converter with the fewest others, so that it waits least. */
    @Override
    public int rank(Board board, String pin, int neighbours) {
        return neighbours;
    }

    @Override
    public String level(BoardSetup setup, Terminal t) {
        return AnalogOut.range(setup, t);
    }

    @Override
    public void check(PatchReport report, Terminal t) {
        var setup = report.setup();
        var sampling = setup.sampling(t).orElseThrow();
        double step = setup.program().tickSeconds();
        if (sampling.samplingSeconds() < t.number("sampling") * (1 - 1e-9)) {
            report.warning("The converter samples for " + Fact.sig(sampling.samplingSeconds() * 1e6) + " µs at most.",
                    "Buffer the sensor, or slow the converter's clock.");
        }
        double ready = readySeconds(setup, t);
        if (ready > step) {
            report.errorOfPlace("The conversion ends " + Fact.sig(ready * 1e6) + " µs after the trigger, after the step of "
                    + Fact.sig(step * 1e6) + " µs.",
                    "Sample for a shorter time, or move it to another converter.");
        }
        if (!t.has("trigger", "task")) {
            var triggers = setup.channel(t).flatMap(c -> setup.board().converter(c.unit())).map(Board.Converter::triggers)
                    .orElse(List.of());
            boolean possible = setup.program().terminals().stream().filter(o -> o.numbers().containsKey("frequency")
                    && !setup.pins(o).isEmpty())
                    .flatMap(o -> setup.channel(o).stream()).anyMatch(c -> triggers.contains(c.unit() + " " + t.texts().get("trigger")));
            if (!possible) {
                report.error("No PWM output uses a timer that can trigger " + setup.channel(t).map(Channel::unit)
                        .orElse("it") + " at the " + t.texts().get("trigger") + ".",
                        "Trigger by the task, or assign a PWM output to one of these timers: " + (triggers.isEmpty() ? "none"
                        : String.join(", ", triggers)) + ".");
            }
        }
    }

    @Override
    public double readySeconds(BoardSetup setup, Terminal t) {
        return setup.queueSeconds(t) + setup.sampling(t).map(PinMath.Sampling::seconds).orElse(0.0);
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        var scale = setup.scale(t);
        if (scale.isEmpty()) {
            return List.of();
        }
        List<Fact> facts = new ArrayList<>();
        double lsb = scale.get().voltsPerCount();
        double sensitivity = t.number("sensitivity");
        double offset = t.number("offset");
        if (t.has("scaling", "two points")) {
            sensitivity = (t.number("v2") - t.number("v1")) / (t.number("y2") - t.number("y1"));
            offset = t.number("v1") - t.number("y1") * sensitivity;
        }
        facts.add(Fact.of("count", lsb * 1e3, "mV"));
        facts.add(Fact.of("counts per unit", Math.abs(sensitivity) / lsb, ""));
        facts.add(Fact.of("resolution", lsb / Math.abs(sensitivity), "units"));
        facts.add(Fact.range((0 - offset) / sensitivity, (scale.get().volts() - offset) / sensitivity, "units"));
        setup.sampling(t).ifPresent(s -> {
            facts.add(Fact.of("sampled for", s.samplingSeconds() * 1e6, "µs"));
            double wait = setup.queueSeconds(t);
            if (wait > 0) {
                facts.add(Fact.of("waits", wait * 1e6, "µs"));
            }
            facts.add(Fact.of("ready after", readySeconds(setup, t) * 1e6, "µs"));
        });
        double noise = t.number("noise");
        if (noise > 0) {
            facts.add(Fact.of("noise", noise / Math.abs(sensitivity), "units RMS"));
        }
        return facts;
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.scale(t).<PinModel>map(s -> new Model(s, t.number("noise"), t.path().hashCode(), single)).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        var channel = setup.channel(t).orElseThrow();
        return new int[] {Registers.adc(setup.board().converterNumber(channel), setup.board().inputNumber(channel))};
    }

    private static String input(BoardCode c, Terminal x) {
        return c.board().converterNumber(c.channel(x)) + "U, " + c.board().inputNumber(c.channel(x)) + "U";
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        c.text().line("board_adc_setup(" + input(c, x) + ", " + c.setup().sampling(x).orElseThrow()
                .choice() + "U, " + trigger(c, x) + "U);" + c.where(x));
    }

    /** Number of a converter's trigger in the board file. */
    private static int trigger(BoardCode c, Terminal x) {
        if (x.has("trigger", "task")) {
            return 0;
        }
        var timers = c.program().terminals().stream().filter(p -> p.numbers().containsKey("frequency")).map(p -> c.channel(p).unit())
                .collect(Collectors.toSet());
        var triggers = c.board().converter(c.channel(x).unit()).orElseThrow().triggers();
        for (int i = 0; i < triggers.size(); i++) {
            int space = triggers.get(i).lastIndexOf(' ');
            if (space > 0 && timers.contains(triggers.get(i).substring(0, space))
                    && triggers.get(i).endsWith(" " + x.texts().get("trigger"))) {
                return i;
            }
        }
        throw new IllegalStateException(x.path());
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        var port = x.ports().getFirst();
        c.text().line(BoardCode.access(port) + " = " + BoardCode.scaled(port, "board_adc_read(" + input(c, x) + ")",
                c.setup().scale(x).orElseThrow().voltsPerCount()) + ";");
    }

    /** One count of a converter. */
    private static final class Model extends PinModel {
        private final PinMath.Scale scale;
        private final double noiseVolts;
        private final long seed;
        private final boolean single;
        private Noise noise;

        Model(PinMath.Scale scale, double noiseVolts, long seed, boolean single) {
            this.scale = scale;
            this.noiseVolts = noiseVolts;
            this.seed = seed;
            this.single = single;
            init();
        }

        @Override
        public void init() {
            noise = new Noise(seed);
        }

        @Override
        public void save(Kept to) {
            to.put(noise.drawn);
        }

        @Override
        public void restore(Kept from) {
            noise = new Noise(seed);
            noise.drawn = (long) from.number();
        }

        @Override
        public long[] counts(double[] volts) {
            return new long[] {scale.count(noiseVolts > 0 ? volts[0] + noiseVolts * noise.nextGaussian() : volts[0])};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {single ? scale.volts32((int) counts[0]) : scale.volts((int) counts[0])};
        }
    }

    /** The numbers of a {@link SplittableRandom}, of which any can be the next. */
    private static final class Noise implements RandomGenerator {
        /** How far the seed of a SplittableRandom moves with each number: the golden ratio in 64 bits (Steele, Lea, Flood 2014). */
        private static final long STRIDE = 0x9e3779b97f4a7c15L;

        private final long seed;
        private long drawn;

        Noise(long seed) {
            this.seed = seed;
        }

        @Override
        public long nextLong() {
            return new SplittableRandom(seed + STRIDE * drawn++).nextLong();
        }
    }
}
