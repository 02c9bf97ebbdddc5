package boldanvil.core.testing;

import boldanvil.core.diagram.Rig;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.target.TargetCore;
import boldanvil.core.target.TargetInstance;
import boldanvil.core.target.TargetPart;
import java.util.LinkedHashMap;
import java.util.Map;

/** A rig in this process, without the bench process: devices as models with the converters of their boards, targets as they are. */
public final class RigModels {
    private RigModels() {}

    /** @param review of the project as the rig has it */
    public static Map<String, Instance> instances(Review review, Rig rig) {
        Map<String, Instance> instances = new LinkedHashMap<>();
        for (String part : review.system().parts().keySet()) {
            Instance plain = JvmCompiler.compile(review.system().program(part).orElseThrow()).instantiate();
            instances.put(part, switch (rig.place(part).mode()) {
                case TARGET -> new TargetInstance(plain, TargetPart.of(review.project(), review.system(), rig, part), new TargetCore());
                case DEVICE -> new BoardTerminals(plain, review.setup(rig, part).orElseThrow());
                default -> plain;
            });
        }
        return instances;
    }

    /** A conductor for them, with targets joined to what they are wired to. */
    public static Conductor conductor(Review review, Map<String, Instance> instances) {
        var conductor = new Conductor(review.system(), instances);
        instances.values().forEach(i -> {
            if (i instanceof TargetInstance t) {
                t.connect(review.system(), instances, conductor::nowNanos);
            }
        });
        return conductor;
    }
}
