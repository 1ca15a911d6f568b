//! Every example runs, and asserts what it shows.

#[path = "../../examples/contact_damage.rs"]
mod contact_damage;

#[test]
fn contact_damage_runs() {
    contact_damage::main().expect("the example is well");
}
