package boldanvil.core.finding;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.api.Test;

class PlaceTest {
    static List<Place> all() {
        return List.of(Place.sheet("controller/loop/gain", "u"), Place.sheet("", "a.y → b.u"), new Place.Line("c/st", 3, 14),
                new Place.Variable("Kp"),
                new Place.Patch("c", "lamp", "clock"), Place.bench("limit on c.i"), Place.rig("desk", "c"), Place.build("c"),
                Place.named("--set"));
    }

    @ParameterizedTest
    @MethodSource("all")
    void aPlaceSurvivesAProcessBorder(Place p) {
        assertThat(Place.parse(p.parts())).isEqualTo(p);
    }

    @Test
    void aPartWithTheNameOfAPageIsOnItsSheet() {
        for (String part : List.of("bench_load", "patch", "rig", "build_up")) {
            assertThat(Place.sheet(part).sheetPath()).contains(part);
            assertThat(Place.parse(Place.sheet(part).parts())).isInstanceOf(Place.Sheet.class);
        }
    }

    @Test
    void partsOfAnotherFormAreAPlaceWithoutAPage() {
        assertThat(Place.parse(List.of())).isEqualTo(Place.named(""));
        assertThat(Place.parse(List.of("sheet", "x"))).isEqualTo(Place.named("x"));
        assertThat(Place.parse(List.of("orbit", "x", "y"))).isEqualTo(Place.named("x"));
    }

    @Test
    void onlyWholeNamesCountAsWithin() {
        assertThat(Place.sheet("c/loop/gain").isWithin("c/loop")).isTrue();
        assertThat(Place.sheet("c/loop2/gain").isWithin("c/loop")).isFalse();
        assertThat(Place.rig("c").isWithin("c")).isFalse();
    }

    @Test
    void theTextIsForPeople() {
        assertThat(all()).extracting(Place::text).containsExactly("controller/loop/gain · u", "system · a.y → b.u", "c/st",
                "variables · Kp", "patch · c/lamp · clock",
                "bench · limit on c.i", "rig desk · c", "build · c", "--set");
    }
}
