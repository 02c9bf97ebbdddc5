package boldanvil.core.replay;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.SheetRef;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.stock.Elements;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Contacts of elements are seen while their part runs, without a change to the part. */
class LiveContactsTest {
    /** What flows into the battery and its potentials equal what the stage's own meters measure, and each net is in balance. */
    @Test
    void contactsAgreeWithMetersBetweenAnyTwoTicks() {
        var project = ProjectReader.read(Path.of("../demo/lamp-charger"));
        var system = LoweredSystem.of(project.as(project.rig("desk").orElseThrow())).orThrow();
        Map<String, boldanvil.core.instance.Instance> parts = new HashMap<>();
        system.parts().keySet().forEach(p -> parts.put(p, JvmCompiler.compile(system.program(p).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, parts);
        var live = new LiveContacts(project, "stage", system.program("stage").orElseThrow());
        var ref = new SheetRef("stage", "main");
        var sheet = project.sheet(ref).orElseThrow();
        var meter = sheet.blocks().stream().filter(b -> b.type().equals("voltmeter")).findFirst().orElseThrow();
        for (int look = 0; look < 20; look++) {
            for (int n = 0; n < 997; n++) {
                conductor.tick();
            }
            var values = live.values(live.take(parts.get("stage")), ref, "stage");
            double across = values.get(meter.id() + ".a voltage") - values.get(meter.id() + ".b voltage");
            assertThat(across).isEqualTo(values.get(meter.id() + ".v"));
            sheet.blocks().stream().filter(b -> Elements.contacts(b).size() == 2).forEach(b -> {
                var c = Elements.contacts(b);
                double in = values.get(b.id() + "." + Elements.flow(c.get(0)));
                assertThat(in + values.get(b.id() + "." + Elements.flow(c.get(1)))).as(b.name())
                        .isCloseTo(0, org.assertj.core.api.Assertions.within(1e-9));
            });
        }
        assertThat(live.part()).isEqualTo("stage");
    }
}
