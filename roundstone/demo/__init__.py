"""An invented workshop: nobody's recipes, nobody's fragrances, pours by a simulated batter."""
