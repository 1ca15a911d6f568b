use tin_crown::*;
fn main() {
    let a: Vec<String> = std::env::args().collect();
    let text = std::fs::read(&a[1]).unwrap();
    let plan = check(&text).plan.unwrap();
    let mut sim = Sim::new(&plan, plan.drill(&a[2]).unwrap());
    let ids: Vec<&str> = a[5..].iter().map(|s| s.as_str()).collect();
    loop {
        let t = sim.tick().0;
        if t >= a[3].parse::<u32>().unwrap() && t <= a[4].parse::<u32>().unwrap() {
            print!("{t:4}");
            for id in &ids {
                if let Some(x) = sim.cast().find(|x| sim.id(*x) == *id) {
                    let v = sim.actor(x);
                    print!(
                        "  {id}{} {:.2},{:.2} v {:.1},{:.1}",
                        if v.alive { "" } else { "(gone)" },
                        v.at.x,
                        v.at.y,
                        v.velocity.x,
                        v.velocity.y
                    );
                }
            }
            println!();
        }
        if !sim.step().unwrap() {
            break;
        }
    }
}
