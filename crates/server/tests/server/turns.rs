//! Whose turn it is among works that go on at once.

use varichrom_server::Turns;

#[test]
fn the_newest_work_has_the_turn_until_it_ends() {
    let turns = Turns::default();
    let first = turns.begin();
    assert!(first.is_newest());
    let second = turns.begin();
    let third = turns.begin();
    assert!(third.is_newest() && !second.is_newest() && !first.is_newest());
    drop(second);
    assert!(third.is_newest());
    drop(third);
    assert!(first.is_newest());
    // Neither rests for ever.
    let later = turns.begin();
    first.slice_done();
    later.slice_done();
}
