package boldanvil.core.quantity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class LiveTest {
    private static final Map<String, Quantity> VARIABLES = Map.of("limit", Formula.quantity("5 mm", Map.of()), "n", Quantity.bare(3));
    private double position = 0.004;

    private Live live(String text) {
        return Formula.live(text, VARIABLES, name -> switch (name) {
            case "plant.position" -> new Live(() -> position, Units.find("m").orElseThrow().dimension());
            case "plant.tripped" -> new Live(() -> 1, null);
            default -> null;
        });
    }

    @ParameterizedTest
    @CsvSource({"plant.position < limit, 1", "plant.position > 4.5 mm, 0", "plant.position = 5 mm ± 1.5 mm, 1",
        "plant.position = 5 mm +- 0.5 mm, 0", "plant.position between 1 mm and limit, 1", "plant.position between limit and 1 m, 0",
        "not plant.tripped, 0", "not (plant.tripped and n > 4), 1", "n <> 3 or n >= 3 and n <= 3, 1", "plant.position > 0, 1",
        "2*plant.position > limit and plant.tripped, 1", "n ≠ 3, 0", "plant.tripped = on, 1"})
    void aConditionIsOneOrZero(String text, double wanted) {
        assertThat(live(text).now()).isEqualTo(wanted);
    }

    @Test
    void theValueIsThatOfTheInstantInWhichItIsAskedFor() {
        Live v = live("plant.position^2 / limit");
        position = 0.01;
        assertThat(v.now()).isEqualTo(0.01 * 0.01 / 0.005);
        assertThat(v.dimension().fits(Units.find("m").orElseThrow().dimension())).isTrue();
    }

    @ParameterizedTest
    @CsvSource({"plant.position < 5, needs a unit", "plant.position < 5 s, The units differ", "plant.position and 1, joins conditions",
        "nothing > 1, neither a signal", "plant.position between 1 mm or 2 mm, joined by 'and'", "2 mm ^ plant.tripped, must be constant",
        "plant.position <, incomplete", "plant.position = 1 mm ± 1 s, The units differ", "n > 3 nor, neither a unit"})
    void whatMakesNoSenseIsRefusedWithItsCause(String text, String cause) {
        assertThatThrownBy(() -> live(text)).isInstanceOf(FormulaException.class).hasMessageContaining(cause);
    }

    @Test
    void negationsWithoutEndAreRefused() {
        assertThatThrownBy(() -> live("not ".repeat(200) + "n")).isInstanceOf(FormulaException.class).hasMessageContaining("deeper");
    }
}
