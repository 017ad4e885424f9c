"""What to do when lye gets where it must not be, and how a bar is tested: the same words on every screen and paper.

First aid after the International Chemical Safety Card of sodium hydroxide (ICSC 0360), its gist from memory; the twenty
minutes and the test of a bar are common practice.
"""

FIRST_AID: tuple[str, ...] = (
    "In the eye: rinse at once with plenty of lukewarm running water, lids held open, lenses out, for at least 20 "
    "minutes, and have an ambulance called meanwhile.",
    "On skin: rinse at once with plenty of water, take wet clothes off under it, for at least 20 minutes; then get "
    "medical help. Never vinegar or any other acid on skin: it heats the burn.",
    "Swallowed: rinse the mouth, make nobody vomit, call an ambulance or the poison line at once.",
    "Breathed in: fresh air and rest; get medical help if it stings or the cough stays.",
    "No aluminium and no zinc: lye eats them and gives off hydrogen, which burns. Spilt lye: gloves on, take it up "
    "with plenty of water.",
)
TEST_A_BAR = (
    "To test a bar: make lather with a few drops of water and lay a pH strip in it. Up to 10 is soap; from 11 on, "
    "where a wet fingertip from bar to tongue stings like a battery, or where there are wet or white hard spots, "
    "nobody uses it: let it cure on, test again, and ask someone who knows lye."
)
