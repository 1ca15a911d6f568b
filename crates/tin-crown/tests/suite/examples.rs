//! Every example runs, and asserts what it shows.

#[path = "../../examples/contact_damage.rs"]
mod contact_damage;

#[test]
fn contact_damage_runs() {
    contact_damage::main().expect("the example is well");
}

#[path = "../../examples/stomp_or_gore.rs"]
mod stomp_or_gore;

#[test]
fn stomp_or_gore_runs() {
    stomp_or_gore::main().expect("the example is well");
}

#[path = "../../examples/pop_gun.rs"]
mod pop_gun;

#[test]
fn pop_gun_runs() {
    pop_gun::main().expect("the example is well");
}

#[path = "../../examples/ambush.rs"]
mod ambush;

#[test]
fn ambush_runs() {
    ambush::main().expect("the example is well");
}

#[path = "../../examples/checkpoint_run.rs"]
mod checkpoint_run;

#[test]
fn checkpoint_run_runs() {
    checkpoint_run::main().expect("the example is well");
}

#[path = "../../examples/regen_shield.rs"]
mod regen_shield;

#[test]
fn regen_shield_runs() {
    regen_shield::main().expect("the example is well");
}

#[path = "../../examples/golden_record.rs"]
mod golden_record;

#[test]
fn golden_record_runs() {
    golden_record::main().expect("the example is well");
}

#[path = "../../examples/host_loop.rs"]
mod host_loop;

#[test]
fn host_loop_runs() {
    host_loop::main().expect("the example is well");
}

#[path = "../../examples/rollback.rs"]
mod rollback;

#[test]
fn rollback_runs() {
    rollback::main().expect("the example is well");
}

#[path = "../../examples/draw_sprites.rs"]
mod draw_sprites;

#[test]
fn draw_sprites_runs() {
    draw_sprites::main().expect("the example is well");
}
