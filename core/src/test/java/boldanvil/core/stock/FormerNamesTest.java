package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.review.Review;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Project files of former versions keep opening, and keep their names when they are saved. */
class FormerNamesTest {
    @ParameterizedTest
    @CsvSource({"interval, window comparator", "function of two, two-input function", "lookup of two, two-input lookup",
            "collect, vector reduction",
        "selector, multiplexer", "sine trio, three-phase sine", "pid of two, two-degree pid", "rate, sample time change"})
    void aFormerIdFindsTheBlockType(String former, String present) {
        assertThat(Stock.find(former)).isPresent().isEqualTo(Stock.find(present));
    }

    @Test
    void noFormerIdIsAPresentOneOrThatOfAnotherType() {
        Set<String> seen = new HashSet<>();
        for (BlockType t : Stock.all()) {
            assertThat(seen.add(t.id())).as(t.id()).isTrue();
            t.formerIds().forEach(id -> assertThat(seen.add(id)).as(id).isTrue());
            t.formerParameters().forEach((former, present) -> assertThat(t.hasParameter(present) && !t.hasParameter(former))
                    .as(t.id() + " " + former).isTrue());
            t.parameters().forEach(p -> assertThat(p.choices()).as(t.id() + " " + p.name()).containsAll(p.formerChoices().values())
                    .allSatisfy(c -> assertThat(p.formerChoices()).doesNotContainKey(c)));
        }
    }

    @Test
    void aBlockUnderAFormerIdComputesTheSame() {
        var s = Stepper.of(new PartBuilder("t").block("u", "inlet").block("w", "interval", "low=1", "high=2").block("y", "outlet")
                .wire("u.y", "w.u").wire("w.y", "y.u"));
        assertThat(s.set("u", 1.5).step().out("y")).isEqualTo(1);
        assertThat(s.set("u", 2.5).step().out("y")).isZero();
    }

    @Test
    void aFormerChoiceIsThePresentOne() {
        var minmax = Stock.find("minmax").orElseThrow();
        assertThat(new Settings(minmax, Map.of("which", "greatest")).text("which")).isEqualTo("maximum");
        assertThat(Structure.runs(Map.of("runs", "on rise"))).isEqualTo("on rising edge");
        assertThat(new Settings(minmax, Map.of("which", "middle")).given("which")).as("what is unknown stays for the finding")
                .isEqualTo("middle");
    }

    @Test
    void aFormerParameterIsThePresentOneAndIsEditedUnderTheNameOfItsFile() {
        var pwm = Stock.find("pwm out").orElseThrow();
        var old = Map.of("least", "0.1", "greatest", "0.9");
        assertThat(new Settings(pwm, old).text("minimum")).isEqualTo("0.1");
        assertThat(new Settings(pwm, old).text("maximum")).isEqualTo("0.9");
        assertThat(Settings.key(pwm, old, "minimum")).isEqualTo("least");
        assertThat(Settings.key(pwm, Map.of(), "minimum")).isEqualTo("minimum");
    }

    @Test
    void aFileOfAFormerVersionOpensAndIsSavedAsItWas(@TempDir Path folder) throws Exception {
        Files.createDirectories(folder.resolve("parts"));
        Files.writeString(folder.resolve("project.json"), "{\"format\": 1, \"name\": \"old\"}\n");
        ProjectWriter.write(PartBuilder.project(List.of(new PartBuilder("p").block("u", "inlet").block("r", "rate", "sample time=1 ms")
                .block("x", "pulse out", "least=5 Hz").wire("u.y", "r.u").wire("r.y", "x.u").part())), folder);
        String before = Files.readString(folder.resolve("parts/p.json"));
        var project = ProjectReader.read(folder);
        assertThat(Review.of(project).system().parts()).as("it can run").hasSize(1);
        ProjectWriter.write(project, folder);
        assertThat(Files.readString(folder.resolve("parts/p.json"))).isEqualTo(before).contains("\"rate\"").contains("\"least\"");
    }
}
