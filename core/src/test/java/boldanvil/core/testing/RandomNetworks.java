package boldanvil.core.testing;

import java.util.List;
import java.util.Random;

/** Random ladders of linear and nonlinear elements, diodes and switches between a source and the ground. */
public final class RandomNetworks {
    /** An element that is bent, and switches with a memory. */
    private static final String WRITTEN = "equations|values=[20, 0.3]|equations=VAR_CONTACT a, b : ELECTRICAL; END_VAR "
            + "VAR_BRANCH v, i : a TO b; END_VAR VAR_PARAMETER R : [Ω]; k : [1/A]; END_VAR "
            + "IF v > 5 UNTIL v < 2 THEN v = R * i; ELSE v = R * i * (2 + k * ABS(i)); END_IF;";

    private RandomNetworks() {}

    /** A plant with such a ladder, with the voltage of each of its nets tapped. */
    public static PartBuilder part(long seed) {
        var random = new Random(seed);
        var b = new PartBuilder("n" + seed).plant("10 us", "rk4").block("gnd", "ground").block("supply", "voltage source", "V=1")
                .net("supply.b", "gnd.a").block("u", "sine", "amplitude=30", "frequency=2 kHz").wire("u.y", "supply.u")
                .block("gate", "compare", "relation=>").block("level", "constant", "value=3").wire("u.y", "gate.a")
                .wire("level.y", "gate.b")
                .block("duty", "sine", "amplitude=0.4", "bias=0.5", "frequency=900 Hz");
        String at = "supply.a";
        for (int i = 0; i < 4; i++) {
            String along = List.of("resistor|R=" + (1 + random.nextInt(50)), "inductor|R=0.5|L=" + (1 + random.nextInt(9)) * 1e-4,
                    "diode|off resistance=100 kohm", "circuit switch|off resistance=10 kohm",
                    "pulsed switch|frequency=7 kHz|off resistance=10 kohm", "thyristor|off resistance=10 kohm",
                    "pulsed mosfet|frequency=9 kHz|off resistance=10 kohm",
                    "saturable inductor|L=1 mH|Ls=0.2 mH|Is=0.5").get(random.nextInt(8));
            element(b, "along " + i, along);
            b.net(at, "along " + i + ".a");
            at = "along " + i + ".b";
            String down = List.of("capacitor|ESR=0.1|C=" + (1 + random.nextInt(9)) * 1e-6, "resistor|R=" + (5 + random.nextInt(50)),
                    "solar panel|Voc=10", "battery|R=0.5", WRITTEN).get(random.nextInt(5));
            element(b, "down " + i, down);
            b.net(at, "down " + i + ".a").net("down " + i + ".b", "gnd.a").block("m" + i, "voltmeter").block("v" + i, "tap")
                    .wire("m" + i + ".v", "v" + i + ".u").net(at, "m" + i + ".a").net("m" + i + ".b", "gnd.a");
        }
        return b;
    }

    private static void element(PartBuilder b, String name, String text) {
        String[] parts = text.split("\\|");
        b.block(name, parts[0], List.of(parts).subList(1, parts.length).toArray(String[]::new));
        switch (parts[0]) {
            case "circuit switch" -> b.wire("gate.y", name + ".on");
            case "thyristor" -> b.wire("gate.y", name + ".gate");
            case "pulsed switch", "pulsed mosfet" -> b.wire("duty.y", name + ".duty");
            default -> { }
        }
    }
}
